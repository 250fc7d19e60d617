/**
 * Apps: what a device should have, what it has, and what follows from the two; packages, and what
 * the end of an installation means.
 */
@NullMarked
package dev.pinwright.core.app;

import org.jspecify.annotations.NullMarked;
