/** Profiles, their versions and what they are assigned to. */
@NullMarked
package dev.pinwright.storage.profile;

import org.jspecify.annotations.NullMarked;
