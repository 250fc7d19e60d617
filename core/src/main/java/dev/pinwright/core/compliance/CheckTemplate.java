package dev.pinwright.core.compliance;

/**
 * A check ready to be taken.
 *
 * @param rule which devices it finds, in the language of rules
 * @param advice what the holder is told to do
 */
public record CheckTemplate(
    String key, String title, String help, String rule, String advice, int grace) {}
