/** Judging a passcode against the policy in force. */
@NullMarked
package dev.pinwright.core.passcode;

import org.jspecify.annotations.NullMarked;
