/** Caches at sites with slow lines: packages are fetched once and given to the devices there. */
@NullMarked
package dev.pinwright.service.cache;

import org.jspecify.annotations.NullMarked;
