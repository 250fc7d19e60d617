/** Attempts to join, from the first question to the record. */
@NullMarked
package dev.pinwright.service.arrival;

import org.jspecify.annotations.NullMarked;
