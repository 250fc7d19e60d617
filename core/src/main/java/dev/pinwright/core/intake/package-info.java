/** How devices are let in: identifiers, invitations, the enrollment decision. */
@NullMarked
package dev.pinwright.core.intake;

import org.jspecify.annotations.NullMarked;
