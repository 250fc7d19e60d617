/** The database: transactions, set-based statements and notices between nodes. */
@NullMarked
package dev.pinwright.storage;

import org.jspecify.annotations.NullMarked;
