/** Lost devices. */
@NullMarked
package dev.pinwright.storage.lost;

import org.jspecify.annotations.NullMarked;
