/** The page of people who hold devices. */
@NullMarked
package dev.pinwright.service.holder;

import org.jspecify.annotations.NullMarked;
