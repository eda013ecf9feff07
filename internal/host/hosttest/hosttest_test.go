package hosttest_test

import (
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/host/hosttest"
	"zatlas/internal/keeper"
)

// paper is a host that is added here: what it shows is what it was last shown.
type paper struct {
	wake   chan struct{}
	events chan keeper.Event
	shown  chan *desk.Desk // one, always
}

func (p *paper) Wake() <-chan struct{} { return p.wake }

func (p *paper) Take() (events []keeper.Event, err error) {
	for {
		select {
		case e := <-p.events:
			events = append(events, e)
		default:
			return events, nil
		}
	}
}

func (p *paper) Show(d *desk.Desk) { <-p.shown; p.shown <- d }

func (p *paper) Close(ids []int) {
	for _, id := range ids {
		if p.now().Window(id) != nil {
			p.happen(desk.Closed{ID: id})
		}
	}
}

func (p *paper) Kill(ids []int)      { p.Close(ids) }
func (p *paper) Tell(keeper.Outcome) {}
func (p *paper) Stop()               { p.Show(nil) }

func (p *paper) now() *desk.Desk { d := <-p.shown; p.shown <- d; return d }

func (p *paper) happen(f desk.Fact) {
	p.events <- keeper.Event{Fact: f}
	select {
	case p.wake <- struct{}{}:
	default:
	}
}

func (p *paper) find(title string) (w desk.Window) {
	for _, o := range p.now().Windows {
		if o.Title == title {
			w = *o
		}
	}
	return w
}

// A host is added by its methods and one call of Run.
func TestAnotherHost(t *testing.T) {
	hosttest.Run(t, func(t *testing.T) hosttest.Rig {
		plane := []geom.Rect{geom.R(0, 0, 1280, 800), geom.R(1280, 0, 1280, 800)}
		d, err := desk.New([]desk.Monitor{
			{Letter: 'A', Name: "a", Rect: plane[0], Work: plane[0], Connected: true},
			{Letter: 'B', Name: "b", Rect: plane[1], Work: plane[1], Connected: true},
		}, desk.Settings{})
		if err != nil {
			t.Fatal(err)
		}
		p, next := &paper{make(chan struct{}, 1), make(chan keeper.Event, 100), make(chan *desk.Desk, 1)}, 0
		p.shown <- d
		return hosttest.Rig{
			Host: p, Desk: d,
			Open: func(title string) {
				next++
				p.happen(desk.Opened{Window: desk.Window{ID: next, App: title, Title: title, Rect: geom.R(0, 0, 300, 200)}, Focus: true})
			},
			Retitle: func(title, to string) {
				p.happen(desk.Changed{ID: p.find(title).ID, Change: func(w *desk.Window) { w.Title = to }})
			},
			End: func(title string) { p.happen(desk.Closed{ID: p.find(title).ID}) },
			Seen: func(title string) (geom.Rect, bool) {
				if p.now() == nil {
					return geom.Rect{}, true
				}
				w := p.find(title)
				return w.Rect, w.ID != 0 && p.now().Visible(p.now().Window(w.ID))
			},
			Focused: func() string {
				for _, w := range p.now().Windows {
					if w.ID == p.now().Focus {
						return w.Title
					}
				}
				return ""
			},
		}
	})
}
