package draw

// Section is a part of the page of keys, on the screens and on paper.
type Section struct {
	Head  string // in capitals
	About string // beside it, in a few words
	Rows  []Key
}

// Key is a row: a key or several, and what they do.
type Key struct{ Keys, Does string }
