/** Management trees, their digests and the difference between two of them. */
@NullMarked
package dev.pinwright.core.tree;

import org.jspecify.annotations.NullMarked;
