/** Units, sites, people and the attributes of all of them. */
@NullMarked
package dev.pinwright.storage.organisation;

import org.jspecify.annotations.NullMarked;
