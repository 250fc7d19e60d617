/** What every use case needs: who calls, what is wrong, pages, JSON, settings. */
@NullMarked
package dev.pinwright.service.work;

import org.jspecify.annotations.NullMarked;
