/** What is printed and handed out. */
@NullMarked
package dev.pinwright.service.print;

import org.jspecify.annotations.NullMarked;
