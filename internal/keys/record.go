package keys

import "time"

// recordTime is how long a key is waited for that is to be recorded.
const recordTime = 10 * time.Second

// Why is why a recording ended.
type Why int

// The ends of a recording.
const (
	Pressed Why = iota // a key was
	NoKey              // none was in time
	PutAway            // nobody asks any more
	Stalled            // the keyboard was given back meanwhile
)

// recording is a key that is waited for.
type recording struct {
	told  func(chord string, why Why) // nil where none is
	until time.Time
}

// Record has the next key be told as it is written, and do nothing else. All keys come here
// by now.
func (m *Machine) Record(now time.Time, told func(chord string, why Why)) {
	m.now = now
	m.record = recording{told, now.Add(recordTime)}
	m.Side.Next()
	m.Side.Wake(m.record.until)
}

// recorded tells a key. Modifiers by themselves are waited out.
func (m *Machine) recorded(p Press) {
	if p.Written != "" {
		m.endRecording(p.Written, Pressed)
	}
}

// EndRecording ends a recording where there is one.
func (m *Machine) EndRecording(why Why) { m.endRecording("", why) }

func (m *Machine) endRecording(chord string, why Why) {
	if told := m.record.told; told != nil {
		m.record = recording{}
		m.Side.Give()
		told(chord, why)
	}
}

// recordTick gives up where no key comes.
func (m *Machine) recordTick() {
	switch {
	case m.record.told == nil:
	case m.now.Before(m.record.until):
		m.Side.Wake(m.record.until)
	default:
		m.EndRecording(NoKey)
	}
}
