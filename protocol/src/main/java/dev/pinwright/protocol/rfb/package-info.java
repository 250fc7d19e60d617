/**
 * A screen over a wire: the Remote Framebuffer Protocol, version 3.8 (RFC 6143), from the end that
 * has the screen. Bytes in, bytes out; whoever owns the connection carries them.
 */
@org.jspecify.annotations.NullMarked
package dev.pinwright.protocol.rfb;
