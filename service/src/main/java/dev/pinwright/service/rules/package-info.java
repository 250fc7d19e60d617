/** Profiles, rehearsals, publications and shapes. */
@NullMarked
package dev.pinwright.service.rules;

import org.jspecify.annotations.NullMarked;
