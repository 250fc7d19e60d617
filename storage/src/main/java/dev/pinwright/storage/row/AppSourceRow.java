package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;

/** Where later versions of an app are looked for. */
@Entity
@DynamicUpdate
@Table(name = "app_source")
public class AppSourceRow {
  @Id public String appId;

  @Version public int version;

  public String address;

  /** What becomes of a version that is found: {@code none}, {@code early} or {@code all}. */
  public String release;

  /**
   * Code of the latest version that was there before, or was released by itself: it is not again.
   */
  public long handled;

  /** The entity tag of what was read last; empty before that. */
  public String tag;

  public Instant lookedAt;

  /** Why the last look failed; empty when it did not. */
  public String fault;
}
