/** Letting devices in: enrollment profiles, invitations, joining, arrivals. */
@NullMarked
package dev.pinwright.service.intake;

import org.jspecify.annotations.NullMarked;
