/** The server's own root, and the certificates of devices (EST, RFC 7030). */
@NullMarked
package dev.pinwright.service.identity;

import org.jspecify.annotations.NullMarked;
