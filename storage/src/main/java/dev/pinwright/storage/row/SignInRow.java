package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;

/** A signed-in browser or program; only the hash of its token is kept. */
@Entity
@DynamicUpdate
@Table(name = "sign_in")
public class SignInRow {
  @Id public String tokenHash;

  public String id;

  public String accountId;

  public String csrf;

  public String label;

  public Instant createdAt;

  public Instant expiresAt;
}
