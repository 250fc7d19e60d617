package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;

/** A file devices are handed. */
@Entity
@DynamicUpdate
@Table(name = "stored_file")
public class StoredFileRow {
  @Id public String id;

  @Version public int version;

  public String name;

  public String kind;

  public String mediaType;

  public long bytes;

  public String about;

  public Instant validUntil;

  /** The notice of its end given last; null when none was. */
  public Integer told;

  public Instant unusedSince;

  public Instant storedAt;

  public String storedBy;

  /** The large object its content is. */
  public long content;
}
