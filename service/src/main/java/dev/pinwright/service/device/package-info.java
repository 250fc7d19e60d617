/** Devices, groups and what happened to them. */
@NullMarked
package dev.pinwright.service.device;

import org.jspecify.annotations.NullMarked;
