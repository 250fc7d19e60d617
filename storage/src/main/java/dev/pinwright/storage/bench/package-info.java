/** Bench sessions and the devices on them. */
@NullMarked
package dev.pinwright.storage.bench;

import org.jspecify.annotations.NullMarked;
