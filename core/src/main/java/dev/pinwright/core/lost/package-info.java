/** Lost devices: each a case, from the report to its end. */
@NullMarked
package dev.pinwright.core.lost;

import org.jspecify.annotations.NullMarked;
