/** How devices are let in: identifiers, invitations, the enrollment decision. */
@NullMarked
package dev.pinwright.core.enrollment;

import org.jspecify.annotations.NullMarked;
