package dev.pinwright.core.catalog;

/** Settings that belong together. */
public record Section(String key, String title, String help) {}
