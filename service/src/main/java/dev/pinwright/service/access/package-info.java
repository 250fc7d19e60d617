/** Accounts, signing in, and who may do what. */
@NullMarked
package dev.pinwright.service.access;

import org.jspecify.annotations.NullMarked;
