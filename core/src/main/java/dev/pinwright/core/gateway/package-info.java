/** The connections to each platform's services: what holds of their credentials. */
@NullMarked
package dev.pinwright.core.gateway;

import org.jspecify.annotations.NullMarked;
