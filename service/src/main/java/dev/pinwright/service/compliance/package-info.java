/** Checks and what follows from what they find. */
@NullMarked
package dev.pinwright.service.compliance;

import org.jspecify.annotations.NullMarked;
