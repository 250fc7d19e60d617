/** Maps and where devices are on them. */
@NullMarked
package dev.pinwright.storage.place;

import org.jspecify.annotations.NullMarked;
