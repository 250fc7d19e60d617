/** Checks: whether a device is in order, and what follows for how long it is not. */
@NullMarked
package dev.pinwright.core.compliance;

import org.jspecify.annotations.NullMarked;
