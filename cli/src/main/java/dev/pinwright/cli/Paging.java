package dev.pinwright.cli;

import picocli.CommandLine.Option;

/** Options of every list. */
final class Paging {
  @Option(names = "--limit", defaultValue = "50", description = "Most rows, up to 200.")
  int limit = 50;

  @Option(names = "--after", description = "Go on after a page: the 'next' it gave in --json.")
  String after = "";
}
