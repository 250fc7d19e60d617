/** What an organisation has of its own: a mail server and a staff directory. */
@NullMarked
package dev.pinwright.sandbox.office;

import org.jspecify.annotations.NullMarked;
