/** The command-line client: a noun and a verb for every step of the work. */
@NullMarked
package dev.pinwright.cli;

import org.jspecify.annotations.NullMarked;
