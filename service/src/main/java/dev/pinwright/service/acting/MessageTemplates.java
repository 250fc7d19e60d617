package dev.pinwright.service.acting;

import com.fasterxml.jackson.core.type.TypeReference;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.CommandSpec;
import dev.pinwright.core.command.CommandForm;
import dev.pinwright.core.command.MessageTemplate;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Records;
import dev.pinwright.storage.ByName;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.MessageTemplateRow;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Words that are used again, for commands that say something to holders. */
public final class MessageTemplates implements Records<MessageTemplate, MessageTemplates.Draft> {
  private final UseCases useCases;
  private final Catalog catalog;

  public MessageTemplates(UseCases useCases, Catalog catalog) {
    this.useCases = useCases;
    this.catalog = catalog;
  }

  /**
   * A template as written.
   *
   * @param command catalogue key of a command that says something
   * @param fields by key, {@code text@fr} in another language
   */
  public record Draft(
      @Nullable String name,
      @Nullable String command,
      @ManyLines Optional<Map<String, String>> fields) {}

  /** Templates by name. */
  public Page<MessageTemplate> page(Caller caller, Page.Request page) {
    return useCases.read(
        tx ->
            Page.byName(
                (after, limit) ->
                    new ByName<>(tx, MessageTemplateRow.class)
                        .page(after, limit).stream().map(this::shown).toList(),
                page,
                MessageTemplate::name,
                MessageTemplate::id));
  }

  private MessageTemplate shown(MessageTemplateRow r) {
    return new MessageTemplate(
        r.id,
        r.version,
        r.name,
        r.command,
        catalog.command(r.command).map(CommandSpec::title).orElse(r.command),
        Json.read(r.fields, new TypeReference<>() {}),
        r.madeBy);
  }

  @Override
  public MessageTemplate get(Caller caller, String id) {
    return useCases.read(
        tx ->
            shown(
                tx.find(MessageTemplateRow.class, id)
                    .orElseThrow(() -> Problem.notFound("message template", id))));
  }

  @Override
  public MessageTemplate add(Caller caller, Draft draft) {
    return write(caller, null, 0, draft);
  }

  @Override
  public MessageTemplate change(Caller caller, String id, int version, Draft draft) {
    return write(caller, id, version, draft);
  }

  private MessageTemplate write(Caller caller, @Nullable String id, int version, Draft draft) {
    String name = Known.name(draft.name());
    CommandSpec spec =
        catalog
            .command(draft.command() == null ? "" : draft.command())
            .filter(CommandSpec::speaks)
            .orElseThrow(
                () ->
                    Problem.malformed(
                        "/command",
                        "Words are for a command that says something: "
                            + String.join(
                                ", ",
                                catalog.commands().stream()
                                    .filter(CommandSpec::speaks)
                                    .map(CommandSpec::key)
                                    .toList())
                            + "."));
    CommandForm form =
        Problem.reading(
            "",
            () -> CommandForm.begun(spec, draft.fields().orElse(Map.of()), "", Optional.empty()));
    if (form.fields().isEmpty()) {
      throw Problem.malformed("/fields", "There are no words in it.");
    }
    return useCases.act(
        caller,
        act -> {
          Tx tx = act.tx();
          Spoken.require(tx, form);
          if (new ByName<>(tx, MessageTemplateRow.class)
              .find(name)
              .filter(r -> !r.id.equals(id))
              .isPresent()) {
            throw Problem.conflict(
                "name-taken", "There is a message template called " + name + " already.");
          }
          MessageTemplateRow row =
              id == null
                  ? new MessageTemplateRow()
                  : Known.locked(
                      tx,
                      MessageTemplateRow.class,
                      "message template",
                      id,
                      version,
                      r -> r.version);
          row.name = name;
          row.command = spec.key();
          row.fields = Json.write(form.fields());
          row.madeBy = caller.login();
          if (id == null) {
            row.id = act.newId();
            tx.insert(row);
          }
          tx.flush();
          act.done(
              Noun.MESSAGE_TEMPLATE,
              id == null ? "made" : "changed",
              row.id,
              "Message template " + name + " for " + spec.title());
          return shown(row);
        });
  }

  @Override
  public void delete(Caller caller, String id, int version) {
    useCases.run(
        caller,
        act -> {
          MessageTemplateRow row =
              Known.locked(
                  act.tx(),
                  MessageTemplateRow.class,
                  "message template",
                  id,
                  version,
                  r -> r.version);
          act.tx().delete(row);
          act.done(
              Noun.MESSAGE_TEMPLATE, "deleted", id, "Message template " + row.name + " deleted");
        });
  }
}
