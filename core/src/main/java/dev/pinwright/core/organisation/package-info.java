/** Units, sites and people, and where a device belongs. */
@NullMarked
package dev.pinwright.core.organisation;

import org.jspecify.annotations.NullMarked;
