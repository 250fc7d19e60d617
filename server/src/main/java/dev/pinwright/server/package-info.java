/** The two listeners: devices on one, people and programs on the other. */
@NullMarked
package dev.pinwright.server;

import org.jspecify.annotations.NullMarked;
