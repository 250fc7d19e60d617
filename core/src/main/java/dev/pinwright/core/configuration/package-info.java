/** Configuration as files: what is in them, and what differs between two of them. */
@NullMarked
package dev.pinwright.core.configuration;

import org.jspecify.annotations.NullMarked;
