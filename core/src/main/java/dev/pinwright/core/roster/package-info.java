/** Devices that are known before they arrive. */
@NullMarked
package dev.pinwright.core.roster;

import org.jspecify.annotations.NullMarked;
