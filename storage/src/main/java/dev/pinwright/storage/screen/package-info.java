/** Screens that are looked at, and pictures of them. */
@org.jspecify.annotations.NullMarked
package dev.pinwright.storage.screen;
