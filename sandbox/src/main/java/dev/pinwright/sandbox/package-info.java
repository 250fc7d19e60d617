/** Simulated devices, and their screens to look at. */
@NullMarked
package dev.pinwright.sandbox;

import org.jspecify.annotations.NullMarked;
