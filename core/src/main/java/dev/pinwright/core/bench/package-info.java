/** What is done to devices by the cable of a bench. */
@org.jspecify.annotations.NullMarked
package dev.pinwright.core.bench;
