/** QR codes as pictures. */
@NullMarked
package dev.pinwright.protocol.qr;

import org.jspecify.annotations.NullMarked;
