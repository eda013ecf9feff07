package main

import (
	"bytes"
	"path/filepath"
	"time"

	"zatlas/internal/draw"
	"zatlas/internal/draw/render"
	"zatlas/internal/scene"
	"zatlas/internal/settings"
	"zatlas/internal/survey"
	"zatlas/internal/tui"
)

// sampled is when the samples' survey ends: a Friday afternoon.
var sampled = time.Date(2026, 11, 27, 17, 30, 0, 0, time.UTC)

// samples adds the drawings of the demo desk to files.
func samples(files map[string]string) error {
	d, err := scene.Demo()
	if err != nil {
		return err
	}
	fonts, err := render.NewFonts()
	if err != nil {
		return err
	}
	s := render.Subject{Desk: d, Name: "the demo desk", Keys: tui.Keys(nil), Keyboard: tui.Keyboard(settings.Default()), Report: func() (*survey.Report, error) {
		return survey.NewReport(survey.Demo(sampled), survey.Weeks, sampled, 0), nil
	}}
	paper, err := render.PaperNamed("a4")
	if err != nil {
		return err
	}
	for name, what := range map[string]string{"atlas.svg": "atlas", "keys.svg": "keys", "survey.svg": "survey", "book.pdf": "book"} {
		drawing, err := s.Drawing(render.Request{What: what}, paper)
		var out bytes.Buffer
		if err == nil {
			err = drawing.Write(&out, filepath.Ext(name), render.Style{Fonts: fonts, Theme: draw.Day, Paper: paper})
		}
		if err != nil {
			return err
		}
		files["docs/samples/"+name] = out.String()
	}
	return nil
}
