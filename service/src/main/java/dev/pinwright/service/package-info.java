/** Use cases: every one checks the caller's role, runs in a transaction and writes the journal. */
@NullMarked
package dev.pinwright.service;

import org.jspecify.annotations.NullMarked;
