/** Gateways: the connections to each platform's push, registrar and store. */
@NullMarked
package dev.pinwright.service.gateway;

import org.jspecify.annotations.NullMarked;
