/** Who is in which group, kept up to date as things change; and what rules name here. */
@NullMarked
package dev.pinwright.service.group;

import org.jspecify.annotations.NullMarked;
