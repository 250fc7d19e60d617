/** Places: the outlines of sites, and where devices come and go. */
@NullMarked
package dev.pinwright.core.place;

import org.jspecify.annotations.NullMarked;
