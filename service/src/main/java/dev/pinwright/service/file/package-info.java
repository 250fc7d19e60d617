/** Files devices are handed: checked for what they are, kept once, served, watched, cleared. */
@NullMarked
package dev.pinwright.service.file;

import org.jspecify.annotations.NullMarked;
