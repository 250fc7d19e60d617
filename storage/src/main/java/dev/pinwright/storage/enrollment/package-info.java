/** Enrollment profiles. */
@NullMarked
package dev.pinwright.storage.enrollment;

import org.jspecify.annotations.NullMarked;
