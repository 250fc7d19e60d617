/** How devices join: enrollment profiles, what the holder sees, the ready gate. */
@NullMarked
package dev.pinwright.service.enrollment;

import org.jspecify.annotations.NullMarked;
