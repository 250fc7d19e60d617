/** Licenses of apps: what was bought, who holds what, and how they are handed out. */
@NullMarked
package dev.pinwright.service.license;

import org.jspecify.annotations.NullMarked;
