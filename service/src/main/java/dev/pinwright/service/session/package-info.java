/** Management sessions with devices (OMA DM 1.2). */
@NullMarked
package dev.pinwright.service.session;

import org.jspecify.annotations.NullMarked;
