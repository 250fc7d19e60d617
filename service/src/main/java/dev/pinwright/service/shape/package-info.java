/** What profiles say, and the desired trees that follow from it. */
@NullMarked
package dev.pinwright.service.shape;

import org.jspecify.annotations.NullMarked;
