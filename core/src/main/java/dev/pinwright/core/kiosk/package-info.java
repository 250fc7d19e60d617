/** What a device in a kiosk shows and lets happen, and how it is left. */
@NullMarked
package dev.pinwright.core.kiosk;

import org.jspecify.annotations.NullMarked;
