/** Seeing a device's screen: once, or live together with its holder. */
@org.jspecify.annotations.NullMarked
package dev.pinwright.core.screen;
