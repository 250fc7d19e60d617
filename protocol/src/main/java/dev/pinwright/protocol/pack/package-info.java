/**
 * Packages: a ZIP of a manifest, its signature and what is installed; made, read and doubted here.
 */
@NullMarked
package dev.pinwright.protocol.pack;

import org.jspecify.annotations.NullMarked;
