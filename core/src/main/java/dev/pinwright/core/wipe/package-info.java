/** Wipes: what is lost by one, whether it happened, and how that is known. */
@NullMarked
package dev.pinwright.core.wipe;

import org.jspecify.annotations.NullMarked;
