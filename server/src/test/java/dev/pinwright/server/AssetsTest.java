package dev.pinwright.server;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;

/** What browsers may keep of the console. */
class AssetsTest {
  @Test
  void anAssetOfABuildThatIsGoneIsNotThePage() throws Exception {
    try (House house = new House()) {
      for (String path : new String[] {"/assets/index-gone.js", "/assets/", "/assets/a/b.js"}) {
        House.Answer answer = house.page(path);
        assertThat(answer.status()).as(path).isEqualTo(404);
        assertThat(answer.header("Cache-Control")).as(path).isEqualTo("no-store");
      }
    }
  }
}
