/** What a device is, apart from what it is told. */
@NullMarked
package dev.pinwright.core.device;

import org.jspecify.annotations.NullMarked;
