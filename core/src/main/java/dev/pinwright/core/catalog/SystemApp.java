package dev.pinwright.core.catalog;

/** An app that comes with an OS, by its id and its name for people. */
public record SystemApp(String id, String name) {}
