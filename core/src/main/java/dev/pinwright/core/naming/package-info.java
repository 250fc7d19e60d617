/** What devices are called: the pattern they are named by, and the numbers of its sequences. */
@NullMarked
package dev.pinwright.core.naming;

import org.jspecify.annotations.NullMarked;
