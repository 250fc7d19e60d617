package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;

/** Someone who holds devices. */
@Entity
@DynamicUpdate
@Table(name = "person")
public class PersonRow implements Removable {
  @Id public String id;

  @Version public int version;

  public String name;

  public String login;

  public String mail;

  public String unitId;

  public String siteId;

  public Instant createdAt;

  /** When they were taken out; only their name is kept since. */
  public Instant removedAt;

  @Override
  public boolean removed() {
    return removedAt != null;
  }
}
