/** The life of one instruction to one device. */
@NullMarked
package dev.pinwright.core.command;

import org.jspecify.annotations.NullMarked;
