package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;

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
}
