package desk

import "fmt"

// What is asked before a command is done by hand, and the verbs that keys stand
// for instead of their own. All of it is named in the rows of the table of verbs.

func restoreMinimised(w *Window) string {
	if w.Minimised {
		return "restore"
	}
	return "minimise"
}

// killHung ends a program that was asked to close its window already and does
// not answer.
func killHung(w *Window) string {
	if w.Hung {
		return "kill"
	}
	return "close"
}

// sureToRemove asks before a workspace with windows goes.
func sureToRemove(d *Desk, c Command) (Question, bool) {
	i, into, err := d.Removal(c)
	if err != nil || d.Count(i) == 0 {
		return Question{}, false // and the command says why not
	}
	goes := "go"
	if d.Count(i) == 1 {
		goes = "goes"
	}
	return Question{fmt.Sprintf("Remove workspace %s? Its %s %s to %s.", d.Title(i), windowsWord(d.Count(i)), goes, d.Title(into)), "removes it", "keeps it"}, true
}

// sureToClose asks before several windows are closed.
func sureToClose(d *Desk, c Command) (Question, bool) {
	ids, err := d.subject(c)
	if err != nil || len(ids) < 2 {
		return Question{}, false
	}
	return Question{fmt.Sprintf("Close %s?", windowsWord(len(ids))), "asks their programs to close them", "leaves them open"}, true
}

func sureToKill(d *Desk, c Command) (Question, bool) {
	ids, err := d.subject(c)
	if err != nil {
		return Question{}, false
	}
	return Question{fmt.Sprintf("End the program of %s? What it has not saved is lost.", d.the(ids)), "ends it", "leaves it running"}, true
}

// sureOfKeeper asks before the keeper ends.
func sureOfKeeper(question string) func(*Desk, Command) (Question, bool) {
	return func(*Desk, Command) (Question, bool) {
		return Question{question + " Every window stays.", "does it", "keeps it"}, true
	}
}
