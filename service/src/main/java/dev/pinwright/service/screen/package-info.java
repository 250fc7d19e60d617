/** Looking at the screens of devices, with their holders' consent. */
@org.jspecify.annotations.NullMarked
package dev.pinwright.service.screen;
