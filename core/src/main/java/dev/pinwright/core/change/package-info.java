/** One move of desired trees: what it would do, what is asked before it is done, how far it is. */
@NullMarked
package dev.pinwright.core.change;

import org.jspecify.annotations.NullMarked;
