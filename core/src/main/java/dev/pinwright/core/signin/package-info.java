/** Who may sign in to a laptop, and what its sign-in window shows. */
@NullMarked
package dev.pinwright.core.signin;

import org.jspecify.annotations.NullMarked;
