/** Identifiers known before their devices arrive, and the sheets they come in. */
@NullMarked
package dev.pinwright.service.roster;

import org.jspecify.annotations.NullMarked;
