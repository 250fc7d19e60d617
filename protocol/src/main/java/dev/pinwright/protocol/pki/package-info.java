/** X.509 and EST (RFC 7030): requests checked, certificates issued, bodies encoded. */
@NullMarked
package dev.pinwright.protocol.pki;

import org.jspecify.annotations.NullMarked;
