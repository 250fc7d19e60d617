package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.CommandKey;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.client.model.EnrollmentProfileDraft;
import dev.pinwright.client.model.Fact;
import dev.pinwright.client.model.Invitation;
import dev.pinwright.client.model.JournalEntry;
import dev.pinwright.client.model.Ownership;
import dev.pinwright.client.model.Profile;
import dev.pinwright.client.model.Reason;
import dev.pinwright.client.model.TargetKind;
import dev.pinwright.client.model.TargetSpec;
import dev.pinwright.core.session.Subtree;
import dev.pinwright.core.tree.Tree;
import dev.pinwright.protocol.pki.Pki;
import java.security.KeyPair;
import java.security.KeyStore;
import java.security.cert.X509Certificate;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLException;
import javax.net.ssl.SSLSocket;
import javax.net.ssl.TrustManagerFactory;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** Management sessions as an independent client would hold them, well and badly. */
class DeviceWireTest {
  private static Rig rig;
  private static Desk desk;
  private static Invitation open;
  private static X509Certificate root;
  private static Wire stranger;

  @BeforeAll
  static void start() throws ApiException {
    rig = new Rig();
    desk = new Desk(rig);
    open = desk.kiosks("Kiosks", 50);
    root = Pki.certificate(rig.client.intake().getJoinFile(open.getId()).getRoot());
    stranger = new Wire(rig.deviceUrl(), root, null, null);
  }

  @AfterAll
  static void stop() {
    rig.close();
  }

  private static Wire.Joined joined(String serial) {
    return stranger.joined(open.getCode(), serial, root);
  }

  private static void refused(Wire.Answer a, int status, String type) {
    assertThat(a.status() + " " + a.problem()).isEqualTo(status + " " + type);
    assertThat(a.detail()).isNotBlank();
  }

  /** CmdIDs of the elements of a name in a message. */
  private static String id(String xml, String element, String containing) {
    Matcher m =
        Pattern.compile(
                "<"
                    + element
                    + "><CmdID>(\\d+)</CmdID>((?!<"
                    + element
                    + ">).)*?"
                    + Pattern.quote(containing))
            .matcher(xml);
    assertThat(m.find()).as(element + " with " + containing + " in " + xml).isTrue();
    return m.group(1);
  }

  private static String status(int cmdId, String msgRef, String ref, String cmd, int code) {
    return "<Status><CmdID>"
        + cmdId
        + "</CmdID><MsgRef>"
        + msgRef
        + "</MsgRef><CmdRef>"
        + ref
        + "</CmdRef><Cmd>"
        + cmd
        + "</Cmd><Data>"
        + code
        + "</Data></Status>";
  }

  @Test
  void badMessagesAreRefusedEachWithItsOwnError() throws ApiException {
    Wire.Joined d = joined("B-1000");
    String good = Wire.packageOne("1", 1, Tree.EMPTY.digest());
    refused(
        d.wire()
            .dm("<!DOCTYPE SyncML [<!ENTITY a \"b\">]>" + good.substring(good.indexOf("<SyncML"))),
        400,
        "forbidden-xml");
    refused(d.wire().dm(good.substring(0, good.length() - 40)), 400, "not-xml");
    refused(d.wire().dm("<x/>"), 400, "not-syncml");
    refused(d.wire().dm(good + " ".repeat(10_000_000)), 413, "message-too-large");
    String crowd =
        IntStream.range(0, 2_000).mapToObj(i -> " a" + i + "='1'").collect(Collectors.joining());
    for (int attributes : List.of(crowd.indexOf(" a40"), crowd.length())) {
      Wire.Answer crowded =
          d.wire().dm(good.replaceFirst("<SyncHdr", "<SyncHdr" + crowd.substring(0, attributes)));
      refused(crowded, 413, "message-too-large");
      assertThat(crowded.response().body()).contains("More than 32 attributes on one element");
    }
    refused(d.wire().dm(Wire.message("9", 4, "")), 400, "out-of-order");
    refused(
        d.wire().send("POST", "/dm", Map.of("Content-Type", "text/plain"), good.getBytes()),
        415,
        "wrong-media-type");
    assertThat(rig.client.records().listJournal("device:" + d.id(), null, null, 50).getItems())
        .filteredOn(e -> e.getAction().equals("session.refused"))
        .extracting(JournalEntry::getSummary)
        .anyMatch(s -> s.startsWith("forbidden-xml"))
        .anyMatch(s -> s.startsWith("not-xml"))
        .anyMatch(s -> s.startsWith("message-too-large"))
        .anyMatch(s -> s.startsWith("out-of-order"));
  }

  @Test
  void strangersAndRemovedDevicesAreToldSo() throws ApiException {
    String message = Wire.packageOne("1", 1, "");
    refused(stranger.dm(message), 401, "certificate-required");
    Pki.Identity otherRoot =
        Pki.newRoot("Other", Instant.now().minusSeconds(60), Instant.now().plusSeconds(999));
    KeyPair keys = Pki.newKey();
    X509Certificate forged =
        Pki.issueDevice(
            otherRoot,
            "01J0",
            keys.getPublic(),
            Instant.now().minusSeconds(60),
            Instant.now().plusSeconds(99));
    refused(
        new Wire(rig.deviceUrl(), root, keys.getPrivate(), forged).dm(message),
        403,
        "stranger-certificate");
    Wire.Joined d = joined("B-2000");
    rig.client.devices().retireDevice(d.id(), new Reason().reason("sold"));
    refused(d.wire().dm(message), 403, "device-retired");
    assertThat(desk.standing(d.id())).isEqualTo("retired");
  }

  @Test
  void aRepeatedMessageGetsTheSameAnswerAndNothingRunsTwice() throws Exception {
    Wire.Joined d = joined("B-3000");
    Profile p = desk.profile("Repeat", Desk.BASELINE, Desk.device(d.id()));
    desk.publish(p);
    String one = Wire.packageOne("1", 1, Tree.EMPTY.digest());
    String first = d.wire().dm(one).response().body();
    assertThat(first).contains("<Atomic>", "./Vendor/Pinwright/Policy/passcode/min-length");
    assertThat(d.wire().dm(one).response().body()).isEqualTo(first);
    String atomic = id(first, "Atomic", "");
    StringBuilder statuses = new StringBuilder(status(1, "1", "0", "SyncHdr", 200));
    statuses.append(status(2, "1", atomic, "Atomic", 200));
    String two = Wire.message("1", 2, statuses.toString());
    String second = d.wire().dm(two).response().body();
    assertThat(second).contains("./Vendor/Pinwright/Facts?list=StructData");
    assertThat(d.wire().dm(two).response().body()).isEqualTo(second);
    assertThat(d.wire().dm(one).response().body())
        .as("an earlier message gets its own answer again")
        .isEqualTo(first);
    assertThat(d.wire().dm(two).response().body()).isEqualTo(second);
    assertThat(
            Sql.text(
                rig,
                "select count(*) from activity where device_id = '"
                    + d.id()
                    + "' and kind = 'settings'"))
        .isEqualTo("1");
    refused(d.wire().dm(Wire.message("1", 5, "")), 400, "out-of-order");
  }

  /** A device that answers all that it is asked, while each time one thing more is ordered. */
  @Test
  void aSessionEndsThoughEachOfItsMessagesMeetsANewOrder() throws Exception {
    Wire.Joined d = joined("B-3500");
    int ordered = 0;
    int messages = 1;
    order(d, ++ordered);
    String answer = d.wire().dm(Wire.packageOne("1", 1, Tree.EMPTY.digest())).response().body();
    List<String> asked = asked(answer);
    while (!asked.isEmpty() && messages < 40) {
      order(d, ++ordered);
      messages++;
      answer = answered(d, messages, asked);
      asked = asked(answer);
    }
    assertThat(messages).as("it is heard to its end and judged").isBetween(16, 24);
    assertThat(desk.standing(d.id())).isEqualTo("settled");
    assertThat(d.wire().dm(Wire.packageOne("2", 1, Tree.EMPTY.digest())).response().body())
        .as("what was ordered meanwhile is for the next session")
        .contains("again " + ordered);
  }

  private static void order(Wire.Joined d, int n) throws ApiException {
    desk.order(
        new DispatchOrder()
            .command(CommandKey.MESSAGE)
            .fields(Map.of("text", "again " + n))
            .targets(List.of(Desk.device(d.id()))),
        d.id() + n);
  }

  private static final Pattern ASKED =
      Pattern.compile("<(Exec|Alert|Get|Add|Replace|Delete|Atomic)><CmdID>(\\d+)</CmdID>");

  /** What an answer asks for: the name and the CmdID of each. */
  private static List<String> asked(String answer) {
    return ASKED.matcher(answer).results().map(m -> m.group(1) + " " + m.group(2)).toList();
  }

  private static String answered(Wire.Joined d, int messageId, List<String> asked) {
    StringBuilder statuses = new StringBuilder();
    String before = String.valueOf(messageId - 1);
    for (String one : asked) {
      String[] parts = one.split(" ");
      int code = parts[0].equals("Get") ? 404 : 200;
      statuses.append(status(1 + asked.indexOf(one), before, parts[1], parts[0], code));
    }
    return d.wire().dm(Wire.message("1", messageId, statuses.toString())).response().body();
  }

  @Test
  void aClientWithoutADigestIsReadAndHandledAllTheSame() throws ApiException {
    Wire.Joined d = joined("B-4000");
    desk.publish(desk.profile("Read", Desk.BASELINE, Desk.device(d.id())));
    String first = d.wire().dm(Wire.packageOne("7", 1, "")).response().body();
    String get = id(first, "Get", "./Vendor/Pinwright/Policy?list=StructData");
    String surplus =
        "<Results><CmdID>3</CmdID><MsgRef>1</MsgRef><CmdRef>"
            + get
            + "</CmdRef><Item><Source><LocURI>"
            + "./Vendor/Pinwright/Policy/restrictions/usb-off</LocURI></Source><Meta><Format"
            + " xmlns=\"syncml:metinf\">bool</Format></Meta><Data>true</Data></Item></Results>";
    String second =
        d.wire()
            .dm(Wire.message("7", 2, status(1, "1", get, "Get", 200) + surplus))
            .response()
            .body();
    assertThat(second)
        .contains("<Delete><CmdID>", "./Vendor/Pinwright/Policy/restrictions/usb-off")
        .contains("./Vendor/Pinwright/Policy/passcode/required");
  }

  @Test
  void whatADeviceRefusesIsLeftOutInTheSameSessionAndNotSentAgain() throws Exception {
    Wire.Joined d = joined("B-5000");
    desk.publish(desk.profile("Refuse", Desk.BASELINE, Desk.device(d.id())));
    String first = d.wire().dm(Wire.packageOne("1", 1, Tree.EMPTY.digest())).response().body();
    String atomic = id(first, "Atomic", "");
    String camera = id(first, "Add", "restrictions/camera-off");
    String second =
        d.wire()
            .dm(
                Wire.message(
                    "1",
                    2,
                    status(1, "1", atomic, "Atomic", 507) + status(2, "1", camera, "Add", 406)))
            .response()
            .body();
    assertThat(second).contains("<Atomic>", "passcode/required").doesNotContain("camera-off");
    String facts =
        d.wire()
            .dm(Wire.message("1", 3, status(1, "2", id(second, "Atomic", ""), "Atomic", 200)))
            .response()
            .body();
    d.wire().dm(Wire.message("1", 4, status(1, "3", id(facts, "Get", ""), "Get", 404)));
    assertThat(desk.standing(d.id())).isEqualTo("blocked");
    assertThat(desk.card(d.id()).getRefused().get(0).getReason())
        .isEqualTo("the device does not support it");
    String desired =
        Sql.text(rig, "select desired_digest from device_state where device_id = '" + d.id() + "'");
    assertThat(d.wire().dm(Wire.packageOne("2", 1, desired)).response().body())
        .doesNotContain("<Atomic>");
  }

  /** Whatever is wanted of a device, and however little it takes, no message is larger. */
  @Test
  void everyMessageKeepsToTheSizeTheDeviceTakes() throws Exception {
    Map<String, Object> much = new TreeMap<>();
    for (int i = 0; i < 12; i++) {
      much.put("wifi[n" + i + "].network", "Quay & \"Mill\" <" + i + "> äöü €");
      much.put("wifi[n" + i + "].security", "open");
    }
    much.put("appearance.lock-screen-text", "<&>\"' ".repeat(30));
    for (int most : new int[] {2_000, 3_000, 5_000}) {
      Wire.Joined d = joined("S-SIZE-" + most);
      desk.publish(
          desk.profile(
              "Much for " + most, much, new TargetSpec().kind(TargetKind.DEVICE).ref(d.id())));
      for (int i = 0; i < 8; i++) {
        desk.order(
            new DispatchOrder()
                .command(CommandKey.MESSAGE)
                .fields(Map.of("text", "<&> ".repeat(60) + i))
                .targets(List.of(new TargetSpec().kind(TargetKind.DEVICE).ref(d.id()))),
            "size-" + most + "-" + i);
      }
      StrangeDevice device = new StrangeDevice();
      d.session(device, "5a", most, List.of(device.digest(Subtree.POLICY)));
      boolean takesAll = most > 2_000;
      assertThat(device.of(Subtree.POLICY))
          .as("limit " + most)
          .hasSize(much.size() - (takesAll ? 0 : 1));
      assertThat(desk.card(d.id()).getDevice().getStandingReason())
          .as("what fits in no message is left out")
          .isEqualTo(takesAll ? "" : "the device refused 1 setting");
      assertThat(device.shown).as("limit " + most).hasSize(8);
    }
    refused(
        joined("S-SIZE-1")
            .wire()
            .dm(
                Wire.packageOne("1", 1, "")
                    .replace(
                        "</Source></SyncHdr>",
                        "</Source><Meta><MaxMsgSize xmlns=\"syncml:metinf\">900</MaxMsgSize></Meta></SyncHdr>")),
        400,
        "message-size-too-small");
  }

  @Test
  void aPersonalDeviceCannotMakeUsKeepItsNumberOrNetwork() throws ApiException {
    Invitation personal =
        desk.invite(
            desk.enrollment(
                new EnrollmentProfileDraft().name("Volunteers").ownership(Ownership.PERSONAL)),
            3);
    Wire.Joined d = stranger.joined(personal.getCode(), "B-6000", root);
    String first = d.wire().dm(Wire.packageOne("1", 1, Tree.EMPTY.digest())).response().body();
    String get = id(first, "Get", "Facts");
    StringBuilder items = new StringBuilder();
    for (String[] f :
        new String[][] {
          {"system/model", "Arbor T10"},
          {"network/phone-number", "+000 5550 1234"},
          {"network/name", "home"},
          {"location/position", "47.2,-20.4"},
          {"apps/private", "a diary"}
        }) {
      items
          .append("<Item><Source><LocURI>./Vendor/Pinwright/Facts/")
          .append(f[0])
          .append("</LocURI></Source><Data>")
          .append(f[1])
          .append("</Data></Item>");
    }
    d.wire()
        .dm(
            Wire.message(
                "1",
                2,
                status(1, "1", get, "Get", 200)
                    + "<Results><CmdID>2</CmdID><MsgRef>1</MsgRef><CmdRef>"
                    + get
                    + "</CmdRef>"
                    + items
                    + "</Results>"));
    assertThat(desk.card(d.id()).getFacts())
        .extracting(Fact::getKey)
        .containsExactly("system/model");
  }

  @Test
  void aCheckInWithNothingToDoIsOneExchangeAndOneStatement() throws Exception {
    Wire.Joined d = joined("B-7000");
    String first = d.wire().dm(Wire.packageOne("1", 1, Tree.EMPTY.digest())).response().body();
    d.wire().dm(Wire.message("1", 2, status(1, "1", id(first, "Get", "Facts"), "Get", 404)));
    Sql.run(
        rig,
        "update device_state set facts_at = now(), standing = 'settled' where device_id = '"
            + d.id()
            + "'");
    Sql.run(rig, "create extension if not exists pg_stat_statements");
    Sql.text(rig, "select cast(pg_stat_statements_reset() as text)");
    checkIns(d);
    // what a check-in does is done a hundred times; what goes on beside it is not
    assertThat(
            Sql.text(
                rig,
                "select string_agg(left(query, 60), ' and ') from pg_stat_statements"
                    + " where calls >= 100 and query not in ('BEGIN', 'COMMIT')"
                    + " and dbid = (select oid from pg_database"
                    + " where datname = current_database())"))
        .startsWith("select c.serial, d.device_id as id")
        .doesNotContain(" and ");
  }

  private static void checkIns(Wire.Joined d) {
    for (int n = 0; n < 100; n++) {
      String answer =
          d.wire().dm(Wire.packageOne("s" + n, 1, Tree.EMPTY.digest())).response().body();
      assertThat(answer).contains("<Status>").doesNotContain("<Get>").doesNotContain("<Atomic>");
    }
  }

  @Test
  void tlsOneTwoEncryptsAndAuthenticatesInOneOrNotAtAll() throws Exception {
    assertThat(handshake("TLS_ECDHE_ECDSA_WITH_AES_128_GCM_SHA256")).isTrue();
    assertThat(handshake("TLS_ECDHE_ECDSA_WITH_AES_128_CBC_SHA256")).isFalse();
    assertThat(handshake("TLS_ECDHE_ECDSA_WITH_AES_256_CBC_SHA384")).isFalse();
  }

  private static boolean handshake(String suite) throws Exception {
    KeyStore roots = KeyStore.getInstance("PKCS12");
    roots.load(null, null);
    roots.setCertificateEntry("root", root);
    TrustManagerFactory trust = TrustManagerFactory.getInstance("PKIX");
    trust.init(roots);
    SSLContext tls = SSLContext.getInstance("TLS");
    tls.init(null, trust.getTrustManagers(), null);
    try (SSLSocket socket =
        (SSLSocket) tls.getSocketFactory().createSocket("127.0.0.1", rig.devicePort)) {
      socket.setEnabledProtocols(new String[] {"TLSv1.2"});
      socket.setEnabledCipherSuites(new String[] {suite});
      socket.startHandshake();
      return true;
    } catch (SSLException e) {
      return false;
    }
  }
}
