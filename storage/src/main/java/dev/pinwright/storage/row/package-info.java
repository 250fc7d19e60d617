/**
 * Rows of the tables, mapped by Hibernate. They are data and nothing else: every decision about
 * them is made in {@code core}, so their fields are plain and public.
 */
@NullUnmarked
package dev.pinwright.storage.row;

import org.jspecify.annotations.NullUnmarked;
