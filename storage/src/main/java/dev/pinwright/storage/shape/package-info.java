/** Shapes, the trees they want, and which profiles make them. */
@NullMarked
package dev.pinwright.storage.shape;

import org.jspecify.annotations.NullMarked;
