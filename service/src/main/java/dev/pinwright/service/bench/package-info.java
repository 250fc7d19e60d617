/** Preparing many devices one after the other. */
@NullMarked
package dev.pinwright.service.bench;

import org.jspecify.annotations.NullMarked;
