/** The clouds outside: each platform's vendor with its push service, registrar and store. */
@NullMarked
package dev.pinwright.sandbox.vendor;

import org.jspecify.annotations.NullMarked;
