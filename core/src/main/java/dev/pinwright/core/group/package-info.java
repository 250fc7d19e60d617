/** Groups: sets of devices picked by hand, by a rule, or by the groups inside them. */
@NullMarked
package dev.pinwright.core.group;

import org.jspecify.annotations.NullMarked;
