package dev.pinwright.cli;

import java.util.concurrent.Callable;
import picocli.CommandLine.Command;

/** {@code signout}. */
@Command(
    name = "signout",
    mixinStandardHelpOptions = true,
    description = "Ends this computer's sign-in.")
final class SignOutCommand implements Callable<Integer> {
  private final Context context;

  SignOutCommand(Context context) {
    this.context = context;
  }

  @Override
  public Integer call() {
    Context.act(() -> context.client().access().signOut());
    context.forget();
    context.line("Signed out.");
    return 0;
  }
}
