/** Files devices are handed: what kinds there are, and when one that nothing uses goes. */
@NullMarked
package dev.pinwright.core.file;

import org.jspecify.annotations.NullMarked;
