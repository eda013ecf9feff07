package main

import (
	"context"

	"zatlas/internal/host/display/camera"
	"zatlas/internal/picture"
	"zatlas/internal/settings"
)

// pictures begins to picture windows, where the settings say so and the display can. The
// function it gives ends that.
func (b *begun) pictures(ctx context.Context) (end func()) {
	ctx, end = context.WithCancel(ctx)
	b.album = picture.NewAlbum(func() { b.camera.Wake() })
	var err error
	if b.camera, err = camera.Start(ctx, b.display, b.album, photographed(b.set), b.log); err != nil {
		b.log.Warn(err.Error())
		b.album = nil
	}
	return end
}

// photograph takes other settings.
func (b *begun) photograph(s settings.Settings) {
	if b.camera != nil {
		b.camera.Configure(photographed(s))
	}
}

func photographed(s settings.Settings) camera.Options {
	return camera.Options{On: s.Pictures(), Private: s.Private()}
}
