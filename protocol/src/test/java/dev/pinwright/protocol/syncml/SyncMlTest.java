package dev.pinwright.protocol.syncml;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import dev.pinwright.protocol.syncml.Element.Add;
import dev.pinwright.protocol.syncml.Element.Alert;
import dev.pinwright.protocol.syncml.Element.Atomic;
import dev.pinwright.protocol.syncml.Element.Delete;
import dev.pinwright.protocol.syncml.Element.Exec;
import dev.pinwright.protocol.syncml.Element.Get;
import dev.pinwright.protocol.syncml.Element.Item;
import dev.pinwright.protocol.syncml.Element.Replace;
import dev.pinwright.protocol.syncml.Element.Results;
import dev.pinwright.protocol.syncml.Element.Sequence;
import dev.pinwright.protocol.syncml.Element.Status;
import dev.pinwright.protocol.syncml.MalformedMessage.Fault;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.Test;

class SyncMlTest {
  /** Package 1 as a device of another make would send it. */
  private static final String RECORDED =
      """
      <?xml version="1.0" encoding="UTF-8"?>
      <SyncML xmlns="SYNCML:SYNCML1.2">
        <SyncHdr>
          <VerDTD>1.2</VerDTD><VerProto>DM/1.2</VerProto><SessionID>4f</SessionID><MsgID>1</MsgID>
          <Target><LocURI>https://127.0.0.1:7443/dm</LocURI></Target>
          <Source><LocURI>IMEI:004401230000016</LocURI></Source>
          <Meta><MaxMsgSize xmlns="syncml:metinf">16384</MaxMsgSize></Meta>
        </SyncHdr>
        <SyncBody>
          <Alert><CmdID>1</CmdID><Data>1201</Data></Alert>
          <Replace><CmdID>2</CmdID>
            <Meta><Format xmlns="syncml:metinf">chr</Format></Meta>
            <Item><Source><LocURI>./DevInfo/Man</LocURI></Source><Data>Kestre</Data></Item>
          </Replace>
          <Alert><CmdID>3</CmdID><Data>1226</Data><Item>
            <Source><LocURI>./Vendor/Pinwright/Policy</LocURI></Source>
            <Meta><Type xmlns="syncml:metinf">urn:pinwright:at:tree-digest:1</Type></Meta>
            <Data><![CDATA[e3b0]]></Data></Item></Alert>
          <Final/>
        </SyncBody>
      </SyncML>
      """;

  private static final Message EVERYTHING =
      new Message(
          new Message.Header("4f", 2, "IMEI:1", "https://127.0.0.1/dm", 65536),
          List.of(
              new Status("1", "1", "0", "SyncHdr", "a", "b", 212, List.of()),
              new Status("2", "1", "1", "Alert", null, null, 200, List.of(Item.data("x"))),
              new Get("3", List.of(Item.at("./Vendor/Pinwright/Facts?list=StructData"))),
              new Atomic(
                  "4",
                  List.of(
                      new Add("5", List.of(Item.put("./a", "bool", "true"))),
                      new Replace("6", List.of(Item.put("./b", "chr", "a < b & \"c\"\n"))),
                      new Delete("7", List.of(Item.at("./c"))))),
              new Sequence("8", List.of(new Exec("9", null, Item.at("./d")))),
              new Exec("10", "01J-1", Item.at("./LAWMO/Operations/FullyLock")),
              new Alert("11", 1100, "01J-2", List.of(Item.data("MINDT=10"), Item.data("Grüße"))),
              new Results("12", "1", "3", List.of(Item.told("./e", "int", "6")))),
          true);

  private static byte[] bytes(String text) {
    return text.getBytes(StandardCharsets.UTF_8);
  }

  private static Fault fault(String xml) {
    MalformedMessage e =
        catchThrowableOfType(MalformedMessage.class, () -> SyncMl.read(bytes(xml)));
    assertThat(e).as("has to be refused").isNotNull();
    return e.fault();
  }

  @Test
  void aRecordedMessageIsRead() throws MalformedMessage {
    Message m = SyncMl.read(bytes(RECORDED));
    assertThat(m.header())
        .isEqualTo(
            new Message.Header(
                "4f", 1, "https://127.0.0.1:7443/dm", "IMEI:004401230000016", 16384));
    assertThat(m.body()).hasSize(3);
    assertThat(((Replace) m.body().get(1)).items().get(0).format()).isEqualTo("chr");
    assertThat(((Alert) m.body().get(2)).items().get(0).data()).isEqualTo("e3b0");
    assertThat(m.last()).isTrue();
  }

  @Test
  void everythingWrittenReadsBackAsItself() throws MalformedMessage {
    assertThat(SyncMl.read(SyncMl.write(EVERYTHING))).isEqualTo(EVERYTHING);
  }

  @Test
  void elementsStandInTheOrderOfTheDtd() {
    String xml = new String(SyncMl.write(EVERYTHING), StandardCharsets.UTF_8);
    assertThat(xml)
        .containsSubsequence(
            "<VerDTD>", "<VerProto>", "<SessionID>", "<MsgID>", "<Target>", "<Source>", "<Meta>")
        .containsSubsequence(
            "<Status>",
            "<CmdID>",
            "<MsgRef>",
            "<CmdRef>",
            "<Cmd>",
            "<TargetRef>",
            "<SourceRef>",
            "<Data>212")
        .containsSubsequence("<Alert><CmdID>11", "<Data>1100", "<Correlator>01J-2", "<Item>")
        .containsSubsequence("<Exec><CmdID>10", "<Correlator>01J-1", "<Item>")
        .matches("(?s).*<Final ?/></SyncBody></SyncML>");
  }

  @Test
  void documentTypesAndEntitiesAreForbidden() {
    assertThat(fault("<!DOCTYPE SyncML [<!ENTITY x \"y\">]>" + RECORDED.substring(39)))
        .isEqualTo(Fault.FORBIDDEN_XML);
    assertThat(fault("<!DOCTYPE SyncML SYSTEM \"file:///etc/passwd\"><SyncML/>"))
        .isEqualTo(Fault.FORBIDDEN_XML);
    assertThat(fault(RECORDED.replace("Kestre", "&x;"))).isEqualTo(Fault.FORBIDDEN_XML);
  }

  @Test
  void whatIsCutShortIsSaidToBe() {
    for (int length = 45; length < RECORDED.length() - 10; length += 37) {
      assertThat(fault(RECORDED.substring(0, length))).isEqualTo(Fault.NOT_XML);
    }
    assertThat(fault("")).isEqualTo(Fault.NOT_XML);
  }

  @Test
  void sizeDepthAndCountAreBounded() {
    assertThat(fault("<a>".repeat(40) + "</a>".repeat(40))).isEqualTo(Fault.TOO_LARGE);
    assertThat(fault("<SyncML>" + "<a/>".repeat(21_000) + "</SyncML>")).isEqualTo(Fault.TOO_LARGE);
    assertThat(fault(" ".repeat(SyncMl.MAX_BYTES + 1))).isEqualTo(Fault.TOO_LARGE);
  }

  @Test
  void otherXmlIsNotSyncMl() {
    assertThat(fault("<html/>")).isEqualTo(Fault.NOT_SYNCML);
    assertThat(fault(RECORDED.replace("DM/1.2", "DM/9"))).isEqualTo(Fault.NOT_SYNCML);
    assertThat(fault(RECORDED.replace("<MsgID>1</MsgID>", "<MsgID>one</MsgID>")))
        .isEqualTo(Fault.NOT_SYNCML);
    assertThat(fault(RECORDED.replace("<CmdID>1</CmdID>", ""))).isEqualTo(Fault.NOT_SYNCML);
    assertThat(fault(RECORDED.replace("Replace>", "Surprise>"))).isEqualTo(Fault.NOT_SYNCML);
  }

  @Test
  void messagesSurviveConversionToWbxmlAndBack() throws Exception {
    Path directory = Files.createTempDirectory("wbxml");
    Path xml = Files.write(directory.resolve("m.xml"), SyncMl.write(EVERYTHING));
    Path wbxml = directory.resolve("m.wbxml");
    Path back = directory.resolve("back.xml");
    Assumptions.assumeTrue(
        run("xml2wbxml", "-o", wbxml.toString(), xml.toString()) >= 0, "no WBXML encoder here");
    assertThat(
            run("wbxml2xml", "-m", "0", "-l", "SYNCML12", "-o", back.toString(), wbxml.toString()))
        .isZero();
    String text = Files.readString(back).replaceFirst("<!DOCTYPE[^>]*>", "");
    assertThat(SyncMl.read(bytes(text))).isEqualTo(EVERYTHING);
  }

  private static int run(String... command) throws InterruptedException {
    try {
      return new ProcessBuilder(command).redirectErrorStream(true).start().waitFor();
    } catch (IOException e) {
      return -1;
    }
  }

  @Provide
  Arbitrary<String> texts() {
    return Arbitraries.strings().withChars("ab<>&\"'] \n\täü✓").ofMaxLength(20);
  }

  @Property(tries = 200)
  void anyTextSurvives(@ForAll("texts") String path, @ForAll("texts") String value)
      throws MalformedMessage {
    Message m =
        new Message(
            new Message.Header("1", 1, "t", "s", 0),
            List.of(new Add("1", List.of(Item.put("./x" + path.strip(), "chr", value)))),
            true);
    assertThat(SyncMl.read(SyncMl.write(m))).isEqualTo(m);
  }

  @Property(tries = 300)
  void noDamageToAMessageDoesMoreThanRefuseIt(
      @ForAll @net.jqwik.api.constraints.IntRange(max = 1200) int at, @ForAll byte with) {
    byte[] damaged = bytes(RECORDED);
    damaged[at % damaged.length] = with;
    try {
      SyncMl.read(damaged);
    } catch (MalformedMessage e) {
      assertThat(e.getMessage()).isNotBlank();
    }
  }
}
