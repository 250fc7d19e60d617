/** What has to reach a socket: wake-ups for devices, events for the console. */
@NullMarked
package dev.pinwright.service.live;

import org.jspecify.annotations.NullMarked;
