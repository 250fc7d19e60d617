/** Files nobody else on the machine reads: simulated devices keep keys and passcodes in them. */
@NullMarked
package dev.pinwright.sandbox.file;

import org.jspecify.annotations.NullMarked;
