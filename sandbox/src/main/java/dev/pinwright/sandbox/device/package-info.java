/** A simulated device: its state, what it obeys and how its holder behaves. */
@NullMarked
package dev.pinwright.sandbox.device;

import org.jspecify.annotations.NullMarked;
