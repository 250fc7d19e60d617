/** Sealing at rest and hashing. */
@NullMarked
package dev.pinwright.service.secret;

import org.jspecify.annotations.NullMarked;
