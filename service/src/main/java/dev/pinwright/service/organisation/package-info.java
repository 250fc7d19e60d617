/** Units, sites and people. */
@NullMarked
package dev.pinwright.service.organisation;

import org.jspecify.annotations.NullMarked;
