/** Changes, and the statements that move devices between shapes. */
@NullMarked
package dev.pinwright.storage.change;

import org.jspecify.annotations.NullMarked;
