/** Files devices are handed. */
@NullMarked
package dev.pinwright.storage.file;

import org.jspecify.annotations.NullMarked;
