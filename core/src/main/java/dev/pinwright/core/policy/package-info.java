/** From published profiles to one effective value per setting, with the reason. */
@NullMarked
package dev.pinwright.core.policy;

import org.jspecify.annotations.NullMarked;
