/** Invitations. */
@NullMarked
package dev.pinwright.storage.invitation;

import org.jspecify.annotations.NullMarked;
