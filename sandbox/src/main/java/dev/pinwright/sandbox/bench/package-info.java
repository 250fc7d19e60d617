/** The bench's cable: racks of slots that devices are plugged into. */
@NullMarked
package dev.pinwright.sandbox.bench;

import org.jspecify.annotations.NullMarked;
