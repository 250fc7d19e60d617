/** The roster and the sheets it is read from. */
@NullMarked
package dev.pinwright.storage.roster;

import org.jspecify.annotations.NullMarked;
