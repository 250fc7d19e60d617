/** Which addresses a device opens. */
@NullMarked
package dev.pinwright.core.web;

import org.jspecify.annotations.NullMarked;
