/** Reads the catalogue's YAML files into {@code core.catalog} records. */
@NullMarked
package dev.pinwright.catalog;

import org.jspecify.annotations.NullMarked;
