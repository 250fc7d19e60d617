/** Rows of sheets that people write: what they say, and what they would do. */
@NullMarked
package dev.pinwright.core.sheet;

import org.jspecify.annotations.NullMarked;
