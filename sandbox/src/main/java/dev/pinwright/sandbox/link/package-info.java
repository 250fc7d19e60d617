/** The device's end of the wire: TLS identities and open sockets by the thousand on few threads. */
@NullMarked
package dev.pinwright.sandbox.link;

import org.jspecify.annotations.NullMarked;
