/** The catalogue: what platforms can do, what devices can be told and asked. */
@NullMarked
package dev.pinwright.core.catalog;

import org.jspecify.annotations.NullMarked;
