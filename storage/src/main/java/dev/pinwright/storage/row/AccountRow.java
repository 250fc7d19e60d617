package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;
import org.jspecify.annotations.Nullable;

/** Someone who signs in to the console. */
@Entity
@DynamicUpdate
@Table(name = "account")
public class AccountRow {
  @Id public String id;

  public String login;

  public String name;

  public String role;

  public String passwordHash;

  public Instant createdAt;

  @Version public int version;

  /** Since when nobody signs in by it; null as long as they do. */
  public @Nullable Instant disabledAt;
}
