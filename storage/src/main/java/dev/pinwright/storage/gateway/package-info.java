/** What is known of the platforms' services: gateways, push subscriptions, registered devices. */
@NullMarked
package dev.pinwright.storage.gateway;

import org.jspecify.annotations.NullMarked;
