/** The journal. */
@NullMarked
package dev.pinwright.storage.journal;

import org.jspecify.annotations.NullMarked;
