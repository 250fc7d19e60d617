/** The one way to say which devices. */
@NullMarked
package dev.pinwright.core.query;

import org.jspecify.annotations.NullMarked;
