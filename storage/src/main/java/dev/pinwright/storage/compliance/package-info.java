/** Checks, what they find, and what devices are told of it. */
@NullMarked
package dev.pinwright.storage.compliance;

import org.jspecify.annotations.NullMarked;
