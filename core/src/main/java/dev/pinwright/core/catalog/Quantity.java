package dev.pinwright.core.catalog;

import java.util.Locale;

/** Amounts in words for people. */
public final class Quantity {
  private static final long GIGA = 1_000_000_000;
  private static final long MEGA = 1_000_000;

  private Quantity() {}

  /**
   * An amount with its unit: {@code 10 minutes}, {@code 1 minute}, {@code 68 %}, {@code 38.4 GB};
   * bytes in powers of ten, as makers count them. {@code true} and {@code false} are yes and no.
   *
   * @param amount as it was told; where it is no number, it is shown as it is
   * @param unit of the catalogue, in the plural; empty where there is none
   */
  public static String words(String amount, String unit) {
    if (amount.equals("true") || amount.equals("false")) {
      return amount.equals("true") ? "yes" : "no";
    }
    if (unit.isEmpty() || !amount.matches("-?\\d{1,18}")) {
      return amount;
    }
    return switch (unit) {
      case "percent" -> amount + " %";
      case "bytes" -> bytes(Long.parseLong(amount));
      default ->
          amount
              + " "
              + (amount.equals("1") && unit.endsWith("ies")
                  ? unit.substring(0, unit.length() - 3) + "y"
                  : amount.equals("1") && unit.endsWith("s")
                      ? unit.substring(0, unit.length() - 1)
                      : unit);
    };
  }

  private static String bytes(long n) {
    return n >= GIGA
        ? String.format(Locale.ROOT, "%.1f GB", n / (double) GIGA).replace(".0 ", " ")
        : n >= MEGA ? n / MEGA + " MB" : n + " bytes";
  }
}
