/** Terms holders accept, in languages and versions. */
@NullMarked
package dev.pinwright.service.terms;

import org.jspecify.annotations.NullMarked;
