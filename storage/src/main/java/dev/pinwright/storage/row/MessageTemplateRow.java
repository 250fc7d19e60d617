package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import org.hibernate.annotations.DynamicUpdate;
import org.hibernate.annotations.JdbcTypeCode;
import org.hibernate.type.SqlTypes;

/** Words that are used again. */
@Entity
@DynamicUpdate
@Table(name = "message_template")
public class MessageTemplateRow {
  @Id public String id;

  @Version public int version;

  public String name;

  public String command;

  @JdbcTypeCode(SqlTypes.JSON)
  public String fields;

  public String madeBy;
}
