package dev.pinwright.service.journal;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.service.Node;
import dev.pinwright.service.device.Groups;
import dev.pinwright.service.work.Page;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.Executors;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Who did what, in a chain that shows every cut. */
class JournalTest {
  private Node node;

  @BeforeEach
  void start() {
    node = new Node();
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private Journal.Verification verified() {
    return node.pinwright.journal().verify(READER);
  }

  private void groups(int n, String prefix) {
    for (int i = 0; i < n; i++) {
      node.pinwright.groups().add(OWNER, Groups.Draft.picked(prefix + i));
    }
  }

  @Test
  void everyLinkHoldsAlsoWhenTwoNodesWriteAtOnce() throws Exception {
    try (Node other = node.another()) {
      var threads = Executors.newFixedThreadPool(6);
      List<Callable<Object>> work = new ArrayList<>();
      for (int i = 0; i < 40; i++) {
        String name = "Group " + i;
        Node at = i % 2 == 0 ? node : other;
        work.add(() -> at.pinwright.groups().add(OWNER, Groups.Draft.picked(name)));
      }
      for (var f : threads.invokeAll(work)) {
        f.get();
      }
      threads.shutdown();
    }
    assertThat(verified()).satisfies(v -> assertThat(v.intact()).isTrue());
    assertThat(verified().entries()).isGreaterThanOrEqualTo(40);
  }

  @Test
  void anEntryThatWasRewrittenBreaksTheChainThere() {
    groups(5, "Group ");
    long third = verified().entries() - 2;
    node.sql("alter table journal disable trigger journal_append_only");
    node.sql("update journal set summary = 'nothing happened' where number = " + third);
    assertThat(verified().intact()).isFalse();
    assertThat(verified().firstBroken()).hasValue(third);
  }

  @Test
  void anEntryThatWasTakenOutBreaksTheChainAfterIt() {
    groups(5, "Group ");
    long third = verified().entries() - 2;
    node.sql("alter table journal disable trigger journal_append_only");
    node.sql("delete from journal where number = " + third);
    assertThat(verified().firstBroken()).hasValue(third + 1);
  }

  @Test
  void aTailThatWasCutIsFoundByWhatIsKeptOutsideTheDatabase() {
    groups(5, "Group ");
    node.pinwright.journal().seal();
    assertThat(verified().sealedAt()).isPresent();
    long last = verified().entries();
    node.sql("alter table journal disable trigger journal_append_only");
    node.sql("delete from journal where number > " + (last - 2));
    assertThat(verified().intact()).isFalse();
    assertThat(verified().firstBroken()).hasValue(last - 1);
    node.pinwright.journal().seal();
    assertThat(verified().intact()).as("it is not sealed anew over what is missing").isFalse();
    groups(5, "Other ");
    node.pinwright.journal().seal();
    assertThat(verified().firstBroken()).as("nor hidden by later ones").hasValue(last);
  }

  @Test
  void aChangeThatFailsLeavesNoEntry() {
    node.pinwright.groups().add(OWNER, Groups.Draft.picked("Quay"));
    long before = verified().entries();
    try {
      node.pinwright.groups().add(OWNER, Groups.Draft.picked("Quay"));
    } catch (RuntimeException e) {
      // the name is taken
    }
    assertThat(verified().entries()).isEqualTo(before);
  }

  @Test
  void entriesAreFoundByWordsAndSubjectAndPagedNewestFirst() {
    groups(7, "Ridge ");
    node.pinwright.groups().add(OWNER, Groups.Draft.picked("Quay"));
    Page<Journal.Shown> ridge =
        node.pinwright.journal().page(READER, "", "ridge", new Page.Request("", 5));
    assertThat(ridge.items()).hasSize(5).allMatch(e -> e.entry().summary().contains("Ridge"));
    assertThat(ridge.items().get(0).entry().number())
        .isGreaterThan(ridge.items().get(1).entry().number());
    assertThat(
            node.pinwright
                .journal()
                .page(READER, "", "ridge", new Page.Request(ridge.next().orElseThrow(), 5))
                .items())
        .hasSize(2);
    String subject = ridge.items().get(0).entry().subject();
    assertThat(node.pinwright.journal().page(READER, subject, "", FIRST).items()).hasSize(1);
  }

  @Test
  void aDeviceIsNamedAsItIsCalledNow() {
    String device = node.join(node.kiosks(1), "AR10-0001");
    node.pinwright.devices().rename(OWNER, device, node.version(device), "Quay door");
    assertThat(node.pinwright.journal().page(READER, "", "joined by", FIRST).items())
        .extracting(Journal.Shown::who)
        .containsExactly("Quay door");
  }
}
