/** Terms and who accepted them. */
@NullMarked
package dev.pinwright.storage.terms;

import org.jspecify.annotations.NullMarked;
