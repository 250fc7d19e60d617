package dev.pinwright.server;

import static dev.pinwright.server.Calls.*;

import dev.pinwright.service.Pinwright;

/** The catalogue and the search over everything. */
final class CatalogueCalls {
  private final Pinwright pinwright;

  CatalogueCalls(Pinwright pinwright) {
    this.pinwright = pinwright;
  }

  void install(Routes r) {
    var catalog = pinwright.catalogue().catalog();
    CatalogueView view = CatalogueView.of(pinwright.catalogue());
    r.get(ROOT + "/catalogue", ctx -> json(ctx, view));
    r.get(
        ROOT + "/settings",
        ctx ->
            json(
                ctx,
                catalog.search(query(ctx, "q")).stream().map(CatalogueView::setting).toList()));
    r.get(
        ROOT + "/search",
        ctx ->
            json(
                ctx,
                pinwright
                    .search()
                    .find(
                        caller(ctx),
                        query(ctx, "q"),
                        query(ctx, "kind"),
                        query(ctx, "whole").equals("true"))));
  }
}
