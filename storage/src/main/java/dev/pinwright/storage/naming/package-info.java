/** Running numbers in names. */
@NullMarked
package dev.pinwright.storage.naming;

import org.jspecify.annotations.NullMarked;
