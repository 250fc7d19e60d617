package dev.pinwright.service.acting;

import com.github.f4b6a3.ulid.Ulid;
import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.CommandSpec;
import dev.pinwright.core.command.Command;
import dev.pinwright.core.command.CommandState;
import dev.pinwright.service.sheet.Sheet;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.acting.CommandStore;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** What was ordered, device by device: of one dispatch, of one device, or over all. */
public final class CommandHistory {
  /** Most rows of a sheet; the newest are in it. */
  private static final int MOST_WRITTEN = 100_000;

  private final UseCases useCases;
  private final Catalog catalog;

  public CommandHistory(UseCases useCases, Catalog catalog) {
    this.useCases = useCases;
    this.catalog = catalog;
  }

  /**
   * What is asked for. Empty texts ask for nothing.
   *
   * @param by login of whoever ordered it
   * @param words of the device's name
   */
  public record Filter(
      String dispatchId,
      String deviceId,
      String command,
      String state,
      String by,
      String words,
      Optional<Instant> since) {
    /** All of a dispatch, or all in one state. */
    public static Filter ofDispatch(String id, String state) {
      return new Filter(id, "", "", state, "", "", Optional.empty());
    }

    /** All of a device. */
    public static Filter ofDevice(String id) {
      return new Filter("", id, "", "", "", "", Optional.empty());
    }
  }

  private CommandStore.Asked asked(Filter f) {
    if (!f.state().isEmpty()) {
      Problem.reading("/state", () -> Words.parse(CommandState.class, f.state()));
    }
    if (!f.command().isEmpty() && catalog.command(f.command()).isEmpty()) {
      throw Problem.malformed("/command", "There is no command " + f.command() + ".");
    }
    return new CommandStore.Asked(
        f.dispatchId(),
        f.deviceId(),
        f.command(),
        f.state(),
        f.by(),
        f.words(),
        // ids begin with the time they were made at
        f.since().map(t -> Ulid.min(Math.max(0, t.toEpochMilli())).toString()).orElse(""));
  }

  /**
   * Commands, newest first.
   *
   * @throws Problem 400 for a state or a command there is not
   */
  public Page<Command> page(Caller caller, Filter filter, Page.Request page) {
    CommandStore.Asked asked = asked(filter);
    String[] c = page.parts(Page.Part.TEXT);
    return useCases.read(
        tx ->
            Page.of(
                new CommandStore(tx).page(asked, c.length == 0 ? "" : c[0], page.limit() + 1),
                page.limit(),
                this::shown,
                l -> Page.cursor(l.id())));
  }

  /** Commands as a sheet, newest first; at most a hundred thousand. */
  public String sheet(Caller caller, Filter filter) {
    CommandStore.Asked asked = asked(filter);
    return useCases.read(
        tx ->
            Sheet.write(
                List.of(
                    "ordered",
                    "device",
                    "command",
                    "state",
                    "why",
                    "by",
                    "for",
                    "due",
                    "delivered",
                    "ended",
                    "answer",
                    "read"),
                Sheet.<CommandStore.Line>rows(
                    MOST_WRITTEN,
                    (after, most) ->
                        new CommandStore(tx)
                            .page(asked, after.map(CommandStore.Line::id).orElse(""), most),
                    l ->
                        Sheet.cells(
                            l.queuedAt(),
                            l.device(),
                            title(l.command()),
                            Words.of(l.state()),
                            l.reason(),
                            l.by(),
                            l.wherefore(),
                            l.dueAt(),
                            l.deliveredAt(),
                            l.endedAt(),
                            l.answer(),
                            l.readAt()))));
  }

  private String title(String command) {
    return catalog.command(command).map(CommandSpec::title).orElse(command);
  }

  private Command shown(CommandStore.Line l) {
    return new Command(
        l.id(),
        l.dispatchId(),
        l.deviceId(),
        l.device(),
        l.command(),
        title(l.command()),
        l.state(),
        l.reason(),
        l.by(),
        l.queuedAt(),
        l.dueAt(),
        l.deliveredAt(),
        l.endedAt(),
        l.expiresAt(),
        l.answer(),
        l.readAt());
  }
}
