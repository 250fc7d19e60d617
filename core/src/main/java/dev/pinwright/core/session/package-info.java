/**
 * What a management session decides: whether there is anything to do, what to say next, what an
 * answer means.
 */
@NullMarked
package dev.pinwright.core.session;

import org.jspecify.annotations.NullMarked;
