/** Codes, links, cards and letters that invite devices and people. */
@NullMarked
package dev.pinwright.service.invitation;

import org.jspecify.annotations.NullMarked;
