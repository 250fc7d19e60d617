/** What the people who look after devices are told without asking, when, and in what words. */
@NullMarked
package dev.pinwright.core.notice;

import org.jspecify.annotations.NullMarked;
