package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;

/** An app. */
@Entity
@DynamicUpdate
@Table(name = "app")
public class AppRow {
  @Id public String id;

  @Version public int version;

  /** What assignments know it by. */
  public String key;

  /** What devices know it by. */
  public String packageId;

  public String name;

  public String publisher;

  public String summary;

  public String category;

  /** Where it comes from, a {@code Origin} as a word. */
  public String origin;

  public String signerName;

  /** SHA-256 of the key all its packages are signed with; null before the first. */
  public String signerKey;

  public byte[] icon;

  /** Code of the version released to all; null while none is. */
  public Long forAll;

  /** Code of the version released early; null while none is. */
  public Long forEarly;

  public Instant createdAt;

  public Instant changedAt;
}
