package dev.pinwright.storage.access;

import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.AccountRow;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Accounts and their sign-ins. */
public final class AccountStore {
  private static final long FIRST = 7448;
  private static final int MOST = 500;

  private final Tx tx;

  public AccountStore(Tx tx) {
    this.tx = tx;
  }

  /** Whether there is an account; nobody else makes the first one until the transaction ends. */
  public boolean any() {
    tx.advisoryLock(FIRST);
    return tx.any("select 1 from account", Map.of());
  }

  /** The account of a login in small letters. */
  public Optional<AccountRow> byLogin(String login) {
    return tx
        .list(AccountRow.class, "from AccountRow where login = :l", Map.of("l", login), 1)
        .stream()
        .findFirst();
  }

  /** Accounts by login. */
  public List<AccountRow> all() {
    return tx.list(AccountRow.class, "from AccountRow order by login", Map.of(), MOST);
  }

  /** Forgets sign-ins that have ended. */
  public void tidy(Instant now) {
    tx.execute("delete from sign_in where expires_at < :now", Map.of("now", now));
  }
}
