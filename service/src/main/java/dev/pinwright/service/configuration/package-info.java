/** The whole of rules, intake and organisation as files: written, rehearsed, loaded. */
@NullMarked
package dev.pinwright.service.configuration;

import org.jspecify.annotations.NullMarked;
