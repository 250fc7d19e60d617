/** What is kept of devices. */
@NullMarked
package dev.pinwright.storage.device;

import org.jspecify.annotations.NullMarked;
