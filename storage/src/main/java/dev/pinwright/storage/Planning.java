package dev.pinwright.storage;

/** How PostgreSQL plans the statements of a transaction (its settings of that name, 15). */
public enum Planning {
  /** A plan for any values is kept where it is good enough. */
  USUAL("auto", "on"),

  /**
   * Each statement for the values it has. A plan for any values knows nothing of what they match,
   * and lists are asked for with all sorts.
   */
  EACH_TIME("force_custom_plan", "on"),

  /**
   * Likewise, and rows are joined one by one as they come, so that a statement ends with the last
   * row that is asked for. A join that first gathers one of its sides has read all of the other
   * before.
   */
  ONE_BY_ONE("force_custom_plan", "off");

  final String plans;
  final String gathering;

  Planning(String plans, String gathering) {
    this.plans = plans;
    this.gathering = gathering;
  }
}
