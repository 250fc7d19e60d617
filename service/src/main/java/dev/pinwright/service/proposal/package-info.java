/** Changes that are proposed for a second person's word, and what is asked before any is made. */
@NullMarked
package dev.pinwright.service.proposal;

import org.jspecify.annotations.NullMarked;
