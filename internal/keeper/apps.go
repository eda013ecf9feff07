package keeper

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"time"

	"zatlas/internal/apps"
	"zatlas/internal/desk"
)

// Launcher knows the programs that can be started. Installed is called
// from the keeper's goroutine, and must not wait.
type Launcher interface {
	// Installed gives the programs as they were last read.
	Installed() *apps.List
	// Renew waits until those that are installed at this moment are known.
	Renew(ctx context.Context) error
	// Start starts one of them and tells how its windows are known.
	Start(app apps.App) (startupID string, pid int, err error)
}

// App is an app that runs or can be started.
type App struct {
	Name      string // by which its windows are known
	Title     string // by which it is installed, where that is another
	Windows   int    // how many are open
	Installed bool
	Chosen    apps.Choice
}

// Apps lists the apps that run or can be started, those chosen most first.
func (k *Keeper) Apps(ctx context.Context) ([]App, error) {
	if k.opt.Launch != nil {
		soon, cancel := context.WithTimeout(ctx, listTime)
		k.opt.Launch.Renew(soon) // else the list is as it was read last
		cancel()
	}
	r := request{apps: make(chan []App, 1)}
	if err := k.send(ctx, r); err != nil {
		return nil, err
	}
	return <-r.apps, nil
}

// listTime is how long a list of apps waits for what was installed since the last one.
const listTime = time.Second

// installed are the programs that can be started.
func (k *Keeper) installed() *apps.List {
	if k.opt.Launch == nil {
		return &apps.List{}
	}
	return k.opt.Launch.Installed()
}

// apps are the apps that run, and those installed that do not, those chosen most
// first.
func (k *Keeper) apps() []App {
	var list []App
	at := map[string]int{}
	for _, w := range k.update.Desk.InOrder() {
		if w.App == "" {
			continue
		}
		i, known := at[w.App]
		if !known {
			i = len(list)
			at[w.App] = i
			list = append(list, App{Name: w.App, Chosen: k.opt.Chosen[w.App]})
		}
		list[i].Windows++
	}
	running := map[string]int{} // by the id of its program
	installed := k.installed()
	for i := range list {
		if a, ok := installed.Find(list[i].Name); ok {
			list[i].Installed = true
			running[a.ID] = i
			if a.Name != list[i].Name {
				list[i].Title = a.Name
			}
		}
	}
	for _, a := range installed.Apps {
		if _, runs := running[a.ID]; !runs {
			list = append(list, App{Name: a.Name, Installed: true, Chosen: k.opt.Chosen[a.Name]})
		}
	}
	return byHabit(list, k.opt.Now())
}

// byHabit puts the apps that were chosen first, those chosen most before others.
func byHabit(list []App, now time.Time) []App {
	var chosen, others []App
	for _, a := range list {
		if apps.Habit(a.Chosen, now) > 0 {
			chosen = append(chosen, a)
		} else {
			others = append(others, a)
		}
	}
	slices.SortStableFunc(chosen, func(a, b App) int {
		return cmp.Compare(apps.Habit(b.Chosen, now), apps.Habit(a.Chosen, now))
	})
	return append(chosen, others...)
}

// RankApps lists the apps that fit what was typed, by either of their names, the
// best first.
func RankApps(list []App, typed string) []App {
	byName, chosen := map[string]App{}, map[string]apps.Choice{}
	var names []string
	for _, a := range list {
		for _, n := range []string{a.Name, a.Title} {
			if _, fits := apps.Score(n, typed); n == "" || !fits {
				continue
			}
			if _, dup := byName[n]; !dup {
				names = append(names, n)
				byName[n], chosen[n] = a, a.Chosen
			}
		}
	}
	var ranked []App
	had := map[string]bool{}
	for _, n := range apps.Rank(names, typed, chosen, time.Now()) {
		if a := byName[n]; !had[a.Name] {
			had[a.Name] = true
			ranked = append(ranked, a)
		}
	}
	return ranked
}

// resolve finds the app that the words of "open" mean: the one that fits them
// best, among equals the one chosen most, then one that runs.
func (k *Keeper) resolve(c desk.Command) (desk.Command, error) {
	if c.Verb != "open" || len(c.Args) == 0 {
		return c, nil
	}
	name := c.Args[0].Word
	if k.update.Desk.Runs(name) {
		return c, nil
	}
	found := RankApps(k.apps(), name)
	if len(found) == 0 {
		return c, &Failure{UnknownApp, fmt.Sprintf("no app is called %s: none that runs, and none that is installed", name)}
	}
	c.Args = slices.Clone(c.Args)
	c.Args[0].Word = found[0].Name
	return c, nil
}

// renewTime is how long a command waits at most for what is installed to be read.
const renewTime = 30 * time.Second

// renewed tells whether a command failed for an app that nobody knew, and what is
// installed has been read anew since, so that it may be tried again.
func (k *Keeper) renewed(ctx context.Context, o Outcome) bool {
	if k.opt.Launch == nil || CodeOf(o.Err) != UnknownApp {
		return false
	}
	ctx, cancel := context.WithTimeout(ctx, renewTime)
	defer cancel()
	return k.opt.Launch.Renew(ctx) == nil
}

// chose counts an app that was opened.
func (k *Keeper) chose(c desk.Command) {
	if c.Verb != "open" {
		return
	}
	choice := apps.Choice{Count: k.opt.Chosen[c.Args[0].Word].Count + 1, At: k.opt.Now()}
	k.opt.Chosen[c.Args[0].Word] = choice
	if k.opt.KeepChoice != nil {
		k.opt.KeepChoice(c.Args[0].Word, choice)
	}
}
