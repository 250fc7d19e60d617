/** What stores say of apps, and licenses. */
@NullMarked
package dev.pinwright.storage.license;

import org.jspecify.annotations.NullMarked;
