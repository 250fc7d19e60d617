/** Sheets of rows with a heading (RFC 4180): what they share, whatever they are of. */
@NullMarked
package dev.pinwright.service.sheet;

import org.jspecify.annotations.NullMarked;
