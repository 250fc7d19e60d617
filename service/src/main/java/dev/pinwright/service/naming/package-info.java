/** Names by pattern and running numbers. */
@NullMarked
package dev.pinwright.service.naming;

import org.jspecify.annotations.NullMarked;
