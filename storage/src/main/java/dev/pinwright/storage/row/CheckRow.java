package dev.pinwright.storage.row;

import dev.pinwright.core.compliance.Check;
import dev.pinwright.core.compliance.Ladder;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import java.util.Optional;
import org.hibernate.annotations.DynamicUpdate;
import org.jspecify.annotations.Nullable;

/** A check. */
@Entity
@DynamicUpdate
@Table(name = "compliance_check")
public class CheckRow {
  @Id public String id;

  @Version public int version;

  public String name;

  public String groupId;

  /** Whether its group is there for it alone. */
  public boolean ownGroup;

  public String advice;

  public int graceHours;

  public @Nullable Integer holderHours;

  public @Nullable Integer houseHours;

  public @Nullable Integer withholdHours;

  public Instant createdAt;

  /** Its steps. */
  public Ladder ladder() {
    return new Ladder(
        graceHours,
        Optional.ofNullable(holderHours),
        Optional.ofNullable(houseHours),
        Optional.ofNullable(withholdHours));
  }

  /** Its steps from now on. */
  public void ladder(Ladder ladder) {
    graceHours = ladder.grace();
    holderHours = ladder.holder().orElse(null);
    houseHours = ladder.house().orElse(null);
    withholdHours = ladder.withhold().orElse(null);
  }

  /** It as a value. */
  public Check check() {
    return new Check(id, version, name, groupId, advice, ladder());
  }
}
