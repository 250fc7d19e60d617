/** Queries of the core as SQL. */
@NullMarked
package dev.pinwright.storage.query;

import org.jspecify.annotations.NullMarked;
