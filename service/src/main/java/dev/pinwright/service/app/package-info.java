/** Apps: brought, released, assigned, and followed onto devices. */
@NullMarked
package dev.pinwright.service.app;

import org.jspecify.annotations.NullMarked;
