package dev.pinwright.storage;

import dev.pinwright.storage.row.*;
import java.sql.Connection;
import java.util.List;
import org.hibernate.Session;
import org.hibernate.SessionFactory;
import org.hibernate.boot.model.naming.CamelCaseToUnderscoresNamingStrategy;
import org.hibernate.cfg.Configuration;

/**
 * Which classes are rows of which tables. That is the same for every database and costs more to
 * work out than a connection to one, so it is worked out once.
 */
final class Mapping {
  private static final Class<?>[] ROWS = {
    AccountRow.class,
    AppReleaseRow.class,
    ConfigurationCodeRow.class,
    LicensePoolRow.class,
    AppRow.class,
    AppSourceRow.class,
    ArrivalRow.class,
    AuthorityRow.class,
    ChangeRow.class,
    CheckRow.class,
    CommandRow.class,
    DeviceCertificateRow.class,
    DeviceRow.class,
    DispatchRow.class,
    DmSessionRow.class,
    EnrollmentProfileRow.class,
    GatewayRow.class,
    EstGrantRow.class,
    GroupRow.class,
    InvitationRow.class,
    PersonRow.class,
    ProfileRow.class,
    ProfileVersionRow.class,
    LostCaseRow.class,
    MessageTemplateRow.class,
    ProposalRow.class,
    RosterRow.class,
    SignInRow.class,
    SiteRow.class,
    StandingOrderRow.class,
    StoredFileRow.class,
    TermsRow.class,
    UnitRow.class
  };

  private static final SessionFactory SESSIONS = sessions();

  private Mapping() {}

  private static SessionFactory sessions() {
    Configuration configuration = new Configuration();
    configuration.setProperty("jakarta.persistence.database-product-name", "PostgreSQL");
    configuration.setProperty("jakarta.persistence.database-major-version", "15");
    configuration.setProperty("hibernate.boot.allow_jdbc_metadata_access", "false");
    configuration.setProperty(
        "hibernate.connection.provider_class",
        "org.hibernate.engine.jdbc.connections.internal.UserSuppliedConnectionProviderImpl");
    configuration.setProperty("hibernate.jdbc.batch_size", "200");
    configuration.setProperty("hibernate.order_inserts", "true");
    configuration.setProperty("hibernate.jdbc.time_zone", "UTC");
    configuration.setPhysicalNamingStrategy(new CamelCaseToUnderscoresNamingStrategy());
    for (Class<?> row : ROWS) {
      configuration.addAnnotatedClass(row);
    }
    return configuration.buildSessionFactory();
  }

  /** The classes whose rows are mapped to tables. */
  static List<Class<?>> mapped() {
    return List.of(ROWS);
  }

  /** A session on a connection, which stays open when the session is closed. */
  static Session session(Connection connection) {
    return SESSIONS.withOptions().connection(connection).openSession();
  }
}
