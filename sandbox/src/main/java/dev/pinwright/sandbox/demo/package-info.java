/** The demo: Vellmar Museums, written through the public API like anybody would. */
@NullMarked
package dev.pinwright.sandbox.demo;

import org.jspecify.annotations.NullMarked;
