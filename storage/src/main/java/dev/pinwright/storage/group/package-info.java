/** Groups, what makes their devices, and who is in them. */
@NullMarked
package dev.pinwright.storage.group;

import org.jspecify.annotations.NullMarked;
