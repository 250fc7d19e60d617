/** Certificates of devices, and the passwords for them. */
@NullMarked
package dev.pinwright.storage.identity;

import org.jspecify.annotations.NullMarked;
