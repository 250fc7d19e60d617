/** The frame of every use case. */
@NullMarked
package dev.pinwright.service.usecase;

import org.jspecify.annotations.NullMarked;
