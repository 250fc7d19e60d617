/** Accounts, their sign-ins and what they like. */
@NullMarked
package dev.pinwright.storage.access;

import org.jspecify.annotations.NullMarked;
