/** Commands and the dispatches they belong to. */
@NullMarked
package dev.pinwright.storage.acting;

import org.jspecify.annotations.NullMarked;
