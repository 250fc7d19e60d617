/** The journal, written in the transaction of what it tells. */
@NullMarked
package dev.pinwright.service.journal;

import org.jspecify.annotations.NullMarked;
