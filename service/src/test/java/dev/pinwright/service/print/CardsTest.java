package dev.pinwright.service.print;

import static org.assertj.core.api.Assertions.assertThat;

import com.google.zxing.BinaryBitmap;
import com.google.zxing.DecodeHintType;
import com.google.zxing.NotFoundException;
import com.google.zxing.RGBLuminanceSource;
import com.google.zxing.Result;
import com.google.zxing.common.HybridBinarizer;
import com.google.zxing.multi.qrcode.QRCodeMultiReader;
import java.awt.image.BufferedImage;
import java.io.IOException;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.rendering.PDFRenderer;
import org.apache.pdfbox.text.PDFTextStripper;
import org.junit.jupiter.api.Test;

class CardsTest {
  private static final String LINK =
      "https://devices.vellmar.example/join/4YTW4N1G2CRY#uWRiaazNWSrPZJXJC26FVj6yI1QMqyLxfIkHgCm_s3o";

  private static Cards.Card card(int n, String title) {
    return new Cards.Card(
        LINK + n, title, "4YTW-4N1G-2CR" + n, List.of("Gallery kiosks", "For one device"));
  }

  private static PDDocument pdf(Cards.Size size, Cards.Card... cards) throws IOException {
    return Loader.loadPDF(Cards.pdf(List.of(cards), size));
  }

  private static String text(PDDocument pdf) throws IOException {
    return new PDFTextStripper().getText(pdf);
  }

  /** What a camera reads from a page printed at 200 dots per inch. */
  private static Stream<String> scanned(PDDocument pdf, int page) throws IOException {
    BufferedImage image = new PDFRenderer(pdf).renderImageWithDPI(page, 200);
    int[] pixels =
        image.getRGB(0, 0, image.getWidth(), image.getHeight(), null, 0, image.getWidth());
    BinaryBitmap seen =
        new BinaryBitmap(
            new HybridBinarizer(
                new RGBLuminanceSource(image.getWidth(), image.getHeight(), pixels)));
    try {
      return Stream.of(
              new QRCodeMultiReader()
                  .decodeMultiple(seen, Map.of(DecodeHintType.TRY_HARDER, Boolean.TRUE)))
          .map(Result::getText);
    } catch (NotFoundException e) {
      return Stream.empty();
    }
  }

  @Test
  void aCardIsReadByCameraAndByEye() throws IOException {
    try (PDDocument pdf = pdf(Cards.Size.CARD, card(1, "Ines Orrin"), card(2, "Runa Orrin"))) {
      assertThat(scanned(pdf, 0)).containsExactlyInAnyOrder(LINK + 1, LINK + 2);
      assertThat(text(pdf)).contains("Ines Orrin", "4YTW-4N1G-2CR1", "For one device");
    }
  }

  @Test
  void aLabelIsSmallAndStillReadable() throws IOException {
    Cards.Card label =
        new Cards.Card("VM-TEX-0001", "VM-TEX tablet 01", "VM-TEX-0001", List.of("T8 mini"));
    try (PDDocument pdf = pdf(Cards.Size.LABEL, label)) {
      assertThat(scanned(pdf, 0)).containsExactly("VM-TEX-0001");
    }
  }

  @Test
  void namesAreWrittenInTheirOwnLetters() throws IOException {
    try (PDDocument pdf =
        pdf(Cards.Size.CARD, card(1, "Łucja Østergård"), card(2, "Ἑλένη"), card(3, "Ірина"))) {
      assertThat(text(pdf)).contains("Łucja Østergård", "Ірина");
    }
  }

  @Test
  void aLetterNoFontHasCostsOnlyThatLetter() throws IOException {
    try (PDDocument pdf = pdf(Cards.Size.CARD, card(1, "Ines 𐍈\tOrrin"))) {
      assertThat(text(pdf)).contains("Ines ? Orrin");
    }
  }

  @Test
  void longTextsAreBrokenAndNeverLeaveTheCard() throws IOException {
    String endless = "Westernmost-".repeat(12);
    try (PDDocument pdf = pdf(Cards.Size.LABEL, card(1, endless), card(2, "Short"))) {
      assertThat(text(pdf).replaceAll("\\s", "")).contains("Westernmost-Westernmost-", "Short");
      assertThat(pdf.getNumberOfPages()).isEqualTo(1);
    }
  }

  @Test
  void asManyPagesAreMadeAsTheCardsNeed() throws IOException {
    Cards.Card[] nine =
        IntStream.range(0, 9).mapToObj(i -> card(i, "Person " + i)).toArray(Cards.Card[]::new);
    try (PDDocument pdf = pdf(Cards.Size.CARD, nine)) {
      assertThat(pdf.getNumberOfPages()).isEqualTo(2);
      assertThat(scanned(pdf, 1)).containsExactly(LINK + 8);
    }
    try (PDDocument pdf = pdf(Cards.Size.LABEL, nine)) {
      assertThat(pdf.getNumberOfPages()).isEqualTo(1);
    }
    try (PDDocument none = pdf(Cards.Size.CARD)) {
      assertThat(none.getNumberOfPages()).isEqualTo(1);
    }
  }
}
