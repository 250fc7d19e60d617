/** Every move of desired trees: proposed, rehearsed, confirmed, applied and followed. */
@NullMarked
package dev.pinwright.service.change;

import org.jspecify.annotations.NullMarked;
