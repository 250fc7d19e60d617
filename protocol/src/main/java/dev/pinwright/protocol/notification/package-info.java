/** OMA DM package 0: the notification that wakes a device. */
@NullMarked
package dev.pinwright.protocol.notification;

import org.jspecify.annotations.NullMarked;
