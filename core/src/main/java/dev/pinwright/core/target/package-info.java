/** Whom an assignment reaches. */
@NullMarked
package dev.pinwright.core.target;

import org.jspecify.annotations.NullMarked;
