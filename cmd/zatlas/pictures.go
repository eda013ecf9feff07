package main

import (
	"context"

	"zatlas/internal/host/display/camera"
	"zatlas/internal/picture"
	"zatlas/internal/settings"
)

// pictures makes what pictures windows while the settings say so, until the context ends.
func (b *begun) pictures(ctx context.Context) {
	b.album = picture.NewAlbum(func() { b.camera.Wake() })
	b.camera = camera.Start(ctx, b.display, b.album, photographed(b.set), b.log)
}

func photographed(s settings.Settings) camera.Options {
	return camera.Options{On: s.Pictures(), Private: s.Private()}
}
