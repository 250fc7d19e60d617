package dev.pinwright.acceptance;

import static com.tngtech.archunit.base.DescribedPredicate.not;
import static com.tngtech.archunit.core.domain.JavaClass.Predicates.resideInAPackage;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;

import com.tngtech.archunit.base.DescribedPredicate;
import com.tngtech.archunit.core.domain.JavaMethodCall;
import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.junit.AnalyzeClasses;
import com.tngtech.archunit.junit.ArchTest;
import com.tngtech.archunit.lang.ArchRule;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.storage.Tx;
import java.util.Map;

/** Imports only point down the list of modules. */
@AnalyzeClasses(packages = "dev.pinwright", importOptions = ImportOption.DoNotIncludeTests.class)
class ArchitectureTest {

  @ArchTest
  static final ArchRule CORE_KNOWS_ONLY_THE_JDK =
      classes()
          .that()
          .resideInAPackage("dev.pinwright.core..")
          .should()
          .onlyDependOnClassesThat()
          .resideInAnyPackage("dev.pinwright.core..", "java..", "javax.crypto..", "org.jspecify..");

  @ArchTest
  static final ArchRule CORE_HAS_NO_CLOCK_AND_NO_FILES =
      noClasses()
          .that()
          .resideInAPackage("dev.pinwright.core..")
          .should()
          .dependOnClassesThat()
          .resideInAnyPackage("java.io..", "java.net..", "java.nio.file..", "java.sql..")
          .orShould()
          .callMethod(java.time.Instant.class, "now")
          .orShould()
          .callMethod(System.class, "currentTimeMillis");

  @ArchTest
  static final ArchRule PROTOCOL_KNOWS_CORE =
      noClasses()
          .that()
          .resideInAPackage("dev.pinwright.protocol..")
          .should()
          .dependOnClassesThat()
          .resideInAnyPackage(
              "dev.pinwright.storage..", "dev.pinwright.service..", "dev.pinwright.server..");

  @ArchTest
  static final ArchRule STORAGE_KNOWS_CORE =
      noClasses()
          .that()
          .resideInAPackage("dev.pinwright.storage..")
          .should()
          .dependOnClassesThat()
          .resideInAnyPackage(
              "dev.pinwright.protocol..", "dev.pinwright.service..", "dev.pinwright.server..");

  @ArchTest
  static final ArchRule SERVICE_KNOWS_NO_LISTENER =
      noClasses()
          .that()
          .resideInAPackage("dev.pinwright.service..")
          .should()
          .dependOnClassesThat()
          .resideInAnyPackage("dev.pinwright.server..", "io.javalin..", "org.eclipse.jetty..");

  @ArchTest
  static final ArchRule LISTENERS_GO_THROUGH_THE_SERVICE =
      noClasses()
          .that()
          .resideInAPackage("dev.pinwright.server..")
          .should()
          .dependOnClassesThat()
          .resideInAnyPackage("dev.pinwright.storage..", "org.hibernate..");

  @ArchTest
  static final ArchRule THE_SANDBOX_IS_OUTSIDE =
      noClasses()
          .that()
          .resideInAPackage("dev.pinwright.sandbox..")
          .should()
          .dependOnClassesThat()
          .resideInAnyPackage(
              "dev.pinwright.storage..", "dev.pinwright.service..", "dev.pinwright.server..");

  @ArchTest
  static final ArchRule THE_CLIENT_KNOWS_ONLY_THE_CONTRACT =
      noClasses()
          .that()
          .resideInAPackage("dev.pinwright.client..")
          .should()
          .dependOnClassesThat(
              resideInAPackage("dev.pinwright..")
                  .and(not(resideInAPackage("dev.pinwright.client.."))));

  /**
   * Its verbs are the commands of the catalogue; all else it knows of the contract. Packages are
   * made where apps are made, without the service: what one is, it knows from the codec.
   */
  @ArchTest
  static final ArchRule THE_COMMAND_LINE_KNOWS_THE_CONTRACT_AND_THE_CATALOGUE =
      noClasses()
          .that()
          .resideInAPackage("dev.pinwright.cli..")
          .should()
          .dependOnClassesThat(
              resideInAPackage("dev.pinwright.core..")
                  .and(not(resideInAPackage("dev.pinwright.core.catalog.."))))
          .orShould()
          .dependOnClassesThat()
          .resideInAnyPackage(
              "dev.pinwright.protocol.dm..",
              "dev.pinwright.protocol.join..",
              "dev.pinwright.protocol.notification..",
              "dev.pinwright.protocol.qr..",
              "dev.pinwright.protocol.syncml..",
              "dev.pinwright.storage..",
              "dev.pinwright.service..",
              "dev.pinwright.server..",
              "dev.pinwright.sandbox..");

  private static final DescribedPredicate<JavaMethodCall> A_STATEMENT =
      DescribedPredicate.describe(
          "a statement in SQL or HQL",
          call ->
              call.getTargetOwner().isEquivalentTo(Tx.class)
                  && call.getTarget().getRawParameterTypes().size() > 1
                  && call.getTarget().getRawParameterTypes().stream()
                      .anyMatch(p -> p.isEquivalentTo(Map.class)));

  @ArchTest
  static final ArchRule SQL_IS_IN_STORAGE_ALONE =
      noClasses()
          .that()
          .resideOutsideOfPackage("dev.pinwright.storage..")
          .should()
          .callMethodWhere(A_STATEMENT)
          .orShould()
          .dependOnClassesThat()
          .resideInAnyPackage("org.hibernate..", "java.sql..", "jakarta.persistence..");

  @ArchTest static final ArchRule STORES_DO_NOT_GO_ROUND_IN_CIRCLES = noCircles("storage");

  @ArchTest
  static final ArchRule EVERY_USE_CASE_IS_IN_THE_FRAME =
      noClasses()
          .that()
          .resideInAPackage("dev.pinwright.service.*..")
          .and()
          .resideOutsideOfPackages(
              "dev.pinwright.service.usecase..",
              "dev.pinwright.service.journal..",
              "dev.pinwright.service.live..")
          .should()
          .callMethod(Events.class, "touch", String.class)
          .orShould()
          .callMethod(Journal.class, "write", Tx.class, Journal.Told.class);

  @ArchTest static final ArchRule CONCEPTS_OF_CORE_DO_NOT_GO_ROUND_IN_CIRCLES = noCircles("core");

  @ArchTest static final ArchRule NOR_DO_CODECS = noCircles("protocol");

  @ArchTest static final ArchRule NOR_DO_NOUNS_OF_THE_SERVICE = noCircles("service");

  private static ArchRule noCircles(String module) {
    return slices().matching("dev.pinwright." + module + ".(*)..").should().beFreeOfCycles();
  }

  @ArchTest
  static final ArchRule WIRING_IS_ABOVE_EVERY_NOUN =
      noClasses()
          .that()
          .resideInAPackage("dev.pinwright.service.*..")
          .should()
          .dependOnClassesThat()
          .resideInAPackage("dev.pinwright.service");

  @ArchTest
  static final ArchRule WHAT_EVERYBODY_NEEDS_IS_BELOW =
      noClasses()
          .that()
          .resideInAPackage("dev.pinwright.service.work..")
          .should()
          .dependOnClassesThat(
              resideInAPackage("dev.pinwright.service..")
                  .and(not(resideInAPackage("dev.pinwright.service.work.."))));
}
