/** Where people who hold devices are signed in. */
@NullMarked
package dev.pinwright.storage.holder;

import org.jspecify.annotations.NullMarked;
