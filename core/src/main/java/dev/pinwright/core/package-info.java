/** Records and decisions. Nothing here does I/O, reads a clock or knows a framework. */
@NullMarked
package dev.pinwright.core;

import org.jspecify.annotations.NullMarked;
