/** Profiles and their publication. */
@NullMarked
package dev.pinwright.service.rules;

import org.jspecify.annotations.NullMarked;
