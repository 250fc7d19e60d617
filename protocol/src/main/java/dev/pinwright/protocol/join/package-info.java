/** The join exchange: link, file and JSON. */
@NullMarked
package dev.pinwright.protocol.join;

import org.jspecify.annotations.NullMarked;
