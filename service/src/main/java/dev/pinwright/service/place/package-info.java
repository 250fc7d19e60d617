/** Maps, and where devices are on them. */
@NullMarked
package dev.pinwright.service.place;

import org.jspecify.annotations.NullMarked;
