/** Apps, their versions, and which of them are on which devices. */
@NullMarked
package dev.pinwright.storage.app;

import org.jspecify.annotations.NullMarked;
