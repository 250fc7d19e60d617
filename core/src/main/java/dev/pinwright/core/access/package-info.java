/** Who may do what. */
@NullMarked
package dev.pinwright.core.access;

import org.jspecify.annotations.NullMarked;
