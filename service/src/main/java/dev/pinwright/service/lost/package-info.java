/** Lost devices, from the report to their end. */
@NullMarked
package dev.pinwright.service.lost;

import org.jspecify.annotations.NullMarked;
