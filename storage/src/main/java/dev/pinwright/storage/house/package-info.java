/** The house: notices, connections, what nodes are up, and what is tidied away. */
@NullMarked
package dev.pinwright.storage.house;

import org.jspecify.annotations.NullMarked;
