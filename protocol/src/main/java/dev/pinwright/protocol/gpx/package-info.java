/** Tracks in the GPS exchange format. */
@NullMarked
package dev.pinwright.protocol.gpx;

import org.jspecify.annotations.NullMarked;
