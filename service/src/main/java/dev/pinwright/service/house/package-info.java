/** What keeps the house: the set-up list, notices, and outgoing mail. */
@NullMarked
package dev.pinwright.service.house;

import org.jspecify.annotations.NullMarked;
