package dev.pinwright.sandbox.office;

import static org.assertj.core.api.Assertions.assertThat;

import com.unboundid.ldap.sdk.LDAPConnection;
import com.unboundid.ldap.sdk.SearchScope;
import dev.pinwright.sandbox.office.StaffDirectory.Member;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class StaffDirectoryTest {

  private static String uuid(StaffDirectory directory) throws Exception {
    URI at = URI.create(directory.address());
    try (LDAPConnection c =
        new LDAPConnection(
            at.getHost(), at.getPort(), StaffDirectory.READER, StaffDirectory.READER_PASSWORD)) {
      return c.searchForEntry(StaffDirectory.BASE, SearchScope.SUB, "(uid=ines.orrin)", "entryUUID")
          .getAttributeValue("entryUUID");
    }
  }

  @Test
  void whoIsInItIsStillThereAfterARestart(@TempDir Path home) throws Exception {
    Path file = home.resolve("office/staff.ldif");
    Member ines =
        new Member("ines.orrin", "Ines Orrin", "ines@vellmar.example", "VM-HAR", "by the quay");
    String known;
    try (StaffDirectory before = new StaffDirectory(0, file)) {
      before.add(List.of(ines));
      before.group("office", List.of(ines));
      known = uuid(before);
    }
    assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(file)))
        .as("passwords are in it")
        .isEqualTo("rw-------");
    try (StaffDirectory after = new StaffDirectory(0, file)) {
      URI at = URI.create(after.address());
      try (LDAPConnection c =
          new LDAPConnection(
              at.getHost(),
              at.getPort(),
              "uid=ines.orrin,ou=people," + StaffDirectory.BASE,
              "by the quay")) {
        assertThat(
                c.search(StaffDirectory.BASE, SearchScope.SUB, "(cn=office)")
                    .getSearchEntries()
                    .get(0)
                    .getAttributeValue("member"))
            .startsWith("uid=ines.orrin,");
        after.add(List.of(ines));
        assertThat(uuid(after)).as("by which others know her").isEqualTo(known).isNotBlank();
        assertThat(c.search(StaffDirectory.BASE, SearchScope.SUB, "(uid=*)").getEntryCount())
            .as("put in again")
            .isEqualTo(1);
      }
    }
  }
}
