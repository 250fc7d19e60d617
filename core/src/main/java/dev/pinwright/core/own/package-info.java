/** What is each device's own: the part of its tree that no other device has. */
@NullMarked
package dev.pinwright.core.own;

import org.jspecify.annotations.NullMarked;
