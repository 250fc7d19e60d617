/** Commands and dispatches. */
@NullMarked
package dev.pinwright.service.acting;

import org.jspecify.annotations.NullMarked;
