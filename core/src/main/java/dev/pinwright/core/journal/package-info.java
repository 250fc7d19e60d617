/** The append-only journal and its hash chain. */
@NullMarked
package dev.pinwright.core.journal;

import org.jspecify.annotations.NullMarked;
