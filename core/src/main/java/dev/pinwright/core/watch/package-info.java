/** Facts whose change is told. */
@NullMarked
package dev.pinwright.core.watch;

import org.jspecify.annotations.NullMarked;
