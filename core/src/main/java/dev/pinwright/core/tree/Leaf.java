package dev.pinwright.core.tree;

/** A leaf of a management tree: its DM format name and its text. */
public record Leaf(String format, String value) {}
