/** OMA DM 1.2 sessions, seen from both ends of the wire. */
@NullMarked
package dev.pinwright.protocol.dm;

import org.jspecify.annotations.NullMarked;
