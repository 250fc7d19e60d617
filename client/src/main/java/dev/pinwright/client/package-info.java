/** Java client of the API. Calls and shapes come from {@code api/openapi.yaml}. */
package dev.pinwright.client;
