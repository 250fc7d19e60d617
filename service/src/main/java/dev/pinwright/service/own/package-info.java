/** What each device is told of itself. */
@NullMarked
package dev.pinwright.service.own;

import org.jspecify.annotations.NullMarked;
