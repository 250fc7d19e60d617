/** The log of arrivals. */
@NullMarked
package dev.pinwright.storage.arrival;

import org.jspecify.annotations.NullMarked;
