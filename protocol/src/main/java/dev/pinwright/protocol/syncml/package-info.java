/** SyncML representation protocol 1.2: messages as records, and their XML. */
@NullMarked
package dev.pinwright.protocol.syncml;

import org.jspecify.annotations.NullMarked;
