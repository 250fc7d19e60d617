/** The staff directory: signing holders in, and bringing people from it. */
@NullMarked
package dev.pinwright.service.directory;

import org.jspecify.annotations.NullMarked;
