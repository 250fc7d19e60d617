package dev.pinwright.service.usecase;

/** What use cases are about, with the word of the journal and the list consoles show it in. */
public enum Noun {
  ACCOUNT("account", "accounts"),
  APP("app", "apps"),
  ARRIVAL("arrival", "arrivals"),
  ASSIST("assist", "assists"),
  ATTRIBUTE("attribute", "attributes"),
  BENCH("bench", "bench"),
  CASE("case", "cases"),
  CERTIFICATE("certificate", "devices"),
  CHANGE("change", "changes"),
  CHECK("check", "checks"),
  COMMAND("command", "dispatches"),
  CONFIGURATION("configuration", "changes"),
  CONNECTION("connection", "gateways"),
  DEVICE("device", "devices"),
  DIRECTORY("directory", "people"),
  DISPATCH("dispatch", "dispatches"),
  FILE("file", "files"),
  ENROLLMENT_PROFILE("enrollment-profile", "enrollment-profiles"),
  GATEWAY("gateway", "gateways"),
  GROUP("group", "groups"),
  INVITATION("invitation", "invitations"),
  LICENSE("license", "licenses"),
  MESSAGE_TEMPLATE("message-template", "message-templates"),
  NOTICE("notice", "notices"),
  PERSON("person", "people"),
  PROFILE("profile", "profiles"),
  PROPOSAL("proposal", "proposals"),
  REGISTRAR("registrar", "gateways"),
  ROSTER("roster", "roster"),
  ROSTER_IMPORT("roster-import", "roster-imports"),
  SCREENSHOT("screenshot", "screenshots"),
  SITE("site", "sites"),
  STANDING_ORDER("standing-order", "standing-orders"),
  TAG("tag", "tags"),
  TERMS("terms", "terms"),
  THRESHOLDS("thresholds", "thresholds"),
  UNIT("unit", "units"),
  WIPE("wipe", "wipes");

  private final String word;
  private final String list;

  Noun(String word, String list) {
    this.word = word;
    this.list = list;
  }

  /** The word of the journal: {@code unit} in {@code unit.made} and in {@code unit:01J…}. */
  public String word() {
    return word;
  }

  /** The topic consoles are told of when one of them changes. */
  public String list() {
    return list;
  }

  /** One of them as the journal names it. */
  public String subject(String id) {
    return word + ":" + id;
  }
}
