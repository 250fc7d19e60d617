/** Licenses of apps: who needs one, how many there are, and who gets which. */
@NullMarked
package dev.pinwright.core.license;

import org.jspecify.annotations.NullMarked;
