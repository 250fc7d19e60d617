package dev.pinwright.sandbox.vendor;

import static dev.pinwright.sandbox.vendor.VendorServices.account;
import static dev.pinwright.sandbox.vendor.VendorServices.chain;
import static dev.pinwright.sandbox.vendor.VendorServices.json;
import static dev.pinwright.sandbox.vendor.VendorServices.signedIn;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.pinwright.core.Words;
import io.javalin.config.RoutesConfig;
import io.javalin.http.Context;
import java.io.IOException;
import java.io.RandomAccessFile;
import java.nio.file.Files;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** What servers and devices call of a vendor's store. */
final class StoreServices {
  private static final ObjectMapper JSON = new ObjectMapper();
  private static final String STORE = "/{platform}/store";
  private static final String PACKAGE = "application/vnd.pinwright.package+zip";

  private static final Pattern RANGE = Pattern.compile("bytes=(\\d{1,18})-(\\d{0,18})");
  private static final int MOST_AT_ONCE = 1024 * 1024;

  private final Vendors vendors;

  StoreServices(Vendors vendors) {
    this.vendors = vendors;
  }

  void install(RoutesConfig r) {
    r.get(STORE + "/account", ctx -> account(ctx, known(ctx)));
    r.get(STORE + "/countries", this::countries);
    r.get(STORE + "/apps", this::search);
    r.post(STORE + "/apps", this::some);
    r.get(STORE + "/licenses", this::licenses);
    r.post(STORE + "/licenses/holding", this::hold);
    r.post(STORE + "/licenses/move", this::move);
    r.post(STORE + "/codes", this::codes);
    r.get(STORE + "/packages/{sha256}", this::fetch);
  }

  private Vendor vendor(Context ctx) {
    return vendors.of(ctx.pathParam("platform"));
  }

  private Vendor.Account known(Context ctx) {
    return signedIn(ctx, vendor(ctx)::byStoreToken);
  }

  private void countries(Context ctx) {
    known(ctx);
    ObjectNode out = JSON.createObjectNode();
    ArrayNode items = out.putArray("items");
    VendorStore.COUNTRIES.forEach(
        (code, name) -> items.addObject().put("code", code).put("name", name));
    json(ctx, out);
  }

  private void search(Context ctx) throws IOException {
    known(ctx);
    String words = Optional.ofNullable(ctx.queryParam("words")).orElse("");
    String country = Optional.ofNullable(ctx.queryParam("country")).orElse("");
    offers(ctx, vendor(ctx).store().search(words, country));
  }

  private void some(Context ctx) throws IOException {
    known(ctx);
    List<String> ids = new ArrayList<>();
    JSON.readTree(ctx.body()).path("ids").forEach(i -> ids.add(i.asText()));
    offers(ctx, vendor(ctx).store().of(ids));
  }

  private void offers(Context ctx, List<VendorStore.Offer> offers) throws IOException {
    String packages = vendors.address(vendor(ctx).platform()) + "/store/packages/";
    ObjectNode out = JSON.createObjectNode();
    ArrayNode items = out.putArray("items");
    for (VendorStore.Offer o : offers) {
      ObjectNode n = items.addObject();
      n.put("id", o.id()).put("name", o.name()).put("publisher", o.publisher());
      n.put("summary", o.summary()).put("category", o.category()).put("icon", o.icon());
      n.put("licensing", Words.of(o.licensing()));
      n.set("prices", JSON.valueToTree(o.prices()));
      ArrayNode versions = n.putArray("versions");
      for (VendorStore.Version v : o.versions()) {
        ObjectNode one = versions.addObject();
        one.put("code", v.code()).put("version", v.version()).put("size", v.size());
        one.put("installed", v.installed()).put("notes", v.notes()).put("sha256", v.sha256());
        one.set("lowestOs", JSON.valueToTree(v.lowestOs()));
        one.set("permissions", JSON.valueToTree(v.permissions()));
        one.put("address", packages + v.sha256());
        if (v.configuration() != null) {
          one.set("configuration", JSON.readTree(v.configuration()));
        }
      }
    }
    json(ctx, out);
  }

  private void licenses(Context ctx) {
    List<VendorStore.Stock> all = vendor(ctx).store().bought(known(ctx).name());
    int limit = Integer.parseInt(Optional.ofNullable(ctx.queryParam("limit")).orElse("500"));
    String after = Optional.ofNullable(ctx.queryParam("after")).orElse("");
    int from = after.isEmpty() ? 0 : Integer.parseInt(after);
    ObjectNode out = JSON.createObjectNode();
    ArrayNode items = out.putArray("items");
    all.stream()
        .skip(from)
        .limit(limit)
        .forEach(
            s ->
                items
                    .addObject()
                    .put("app", s.app())
                    .put("place", s.place())
                    .put("owned", s.owned())
                    .put("given", s.names().size()));
    if (from + limit < all.size()) {
      out.put("next", String.valueOf(from + limit));
    }
    json(ctx, out);
  }

  private void hold(Context ctx) throws IOException {
    Vendor.Account a = known(ctx);
    JsonNode body = JSON.readTree(ctx.body());
    List<String> names = new ArrayList<>();
    body.path("names").forEach(s -> names.add(s.asText()));
    ObjectNode out = JSON.createObjectNode();
    ArrayNode done = out.putArray("names");
    vendor(ctx)
        .store()
        .hold(
            a.name(),
            body.path("app").asText(),
            body.path("place").asText(),
            names,
            body.path("held").asBoolean())
        .forEach(done::add);
    vendors.save();
    json(ctx, out);
  }

  private void codes(Context ctx) throws IOException {
    Vendor.Account a = known(ctx);
    JsonNode body = JSON.readTree(ctx.body());
    List<String> codes = new ArrayList<>();
    body.path("codes").forEach(c -> codes.add(c.asText()));
    ObjectNode out = JSON.createObjectNode();
    ObjectNode judged = out.putObject("codes");
    vendor(ctx)
        .store()
        .judge(
            a.name(),
            body.path("app").asText(),
            body.path("place").asText(),
            codes,
            body.path("redeem").asBoolean())
        .forEach((code, word) -> judged.put(code, Words.of(word)));
    vendors.save();
    json(ctx, out);
  }

  private void move(Context ctx) throws IOException {
    Vendor.Account a = known(ctx);
    JsonNode body = JSON.readTree(ctx.body());
    vendor(ctx)
        .store()
        .move(
            a.name(),
            body.path("app").asText(),
            body.path("from").asText(),
            body.path("to").asText(),
            body.path("number").asLong());
    vendors.save();
    json(ctx, JSON.createObjectNode());
  }

  /**
   * A package for a device that proves which it is. Who is signed in on it says the field From (RFC
   * 9110, 10.1.2): a stand-in for signing in to the store, which a real one would want proved.
   */
  private void fetch(Context ctx) throws IOException {
    Optional<String> serial = vendor(ctx).serial(chain(ctx));
    if (serial.isEmpty()) {
      ctx.status(403).result("present the certificate your maker gave you");
      return;
    }
    Optional<VendorStore.Package> found;
    try {
      found = vendor(ctx).store().fetch(ctx.pathParam("sha256"), serial.get(), ctx.header("From"));
    } catch (SecurityException e) {
      ctx.status(403).result(String.valueOf(e.getMessage()));
      return;
    }
    if (found.isEmpty()) {
      ctx.status(404).result("the store has no such package");
      return;
    }
    ctx.header("ETag", '"' + ctx.pathParam("sha256") + '"');
    ctx.header("Cache-Control", "private, immutable");
    ctx.contentType(PACKAGE);
    ctx.header("Accept-Ranges", "bytes");
    part(ctx, found.get());
  }

  /** The part that is asked for (RFC 9110, 14.2), at most so much at once; all of it otherwise. */
  private static void part(Context ctx, VendorStore.Package file) throws IOException {
    Matcher range = RANGE.matcher(Optional.ofNullable(ctx.header("Range")).orElse(""));
    if (!range.matches()) {
      ctx.result(Files.newInputStream(file.path()));
      return;
    }
    long from = Long.parseLong(range.group(1));
    long last = range.group(2).isEmpty() ? Long.MAX_VALUE : Long.parseLong(range.group(2));
    if (from >= file.size() || last < from) {
      ctx.status(416).header("Content-Range", "bytes */" + file.size());
      return;
    }
    int length = (int) Math.min(MOST_AT_ONCE, Math.min(last, file.size() - 1) - from + 1);
    byte[] part = new byte[length];
    try (RandomAccessFile in = new RandomAccessFile(file.path().toFile(), "r")) {
      in.seek(from);
      in.readFully(part);
    }
    ctx.status(206)
        .header("Content-Range", "bytes " + from + "-" + (from + length - 1) + "/" + file.size());
    ctx.result(part);
  }
}
