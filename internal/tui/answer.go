package tui

import (
	"fmt"
	"slices"
	"time"

	tea "charm.land/bubbletea/v2"
)

// pulse tells whether the keeper answers: it may stand still, or the way to it.
type pulse struct {
	asked time.Time     // when it was asked; zero where it has answered
	used  time.Time     // when a key or news came last
	quiet time.Duration // for how long it has not answered; 0 where it does
	beat  int           // the number of the time to ask that is waited for
	words string        // that were said of that; empty for none
}

// How often the keeper is asked whether it answers: while the screens are in use, and when
// they rest. It is told that it does not, when it has not by the next time of the first.
const (
	pulseUsed  = 900 * time.Millisecond
	pulseRests = 10 * time.Second
	restsAfter = 30 * time.Second // of the last key or news
)

type (
	pulseMsg    int // it is time to ask
	answeredMsg struct{}
)

// beat waits until it is time to ask again.
func (m *model) beat() tea.Cmd {
	if m.opt.Simulated {
		return nil // it is in this process
	}
	m.pulse.beat++
	n := pulseMsg(m.pulse.beat)
	return tea.Tick(m.pulse.wait(), func(time.Time) tea.Msg { return n })
}

// wait is how long it is until the keeper is asked again, or its answer is looked for.
func (p *pulse) wait() time.Duration {
	if p.asked.IsZero() && time.Since(p.used) > restsAfter {
		return pulseRests
	}
	return pulseUsed
}

// use has the keeper be asked at once, where the screens have rested.
func (m *model) use() tea.Cmd {
	rested := time.Since(m.pulse.used) > restsAfter
	if m.pulse.used = time.Now(); !rested || m.opt.Simulated || !m.pulse.asked.IsZero() {
		return nil
	}
	return m.askPulse()
}

// askPulse asks the keeper whether it answers, or tells for how long it has not.
func (m *model) askPulse() tea.Cmd {
	p := &m.pulse
	if m.gone {
		p.asked, p.quiet = time.Time{}, 0
		return m.beat()
	}
	if p.asked.IsZero() {
		p.asked = time.Now()
		return tea.Batch(m.beat(), func() tea.Msg {
			m.k.Ping(m.ctx) // where that fails, the news end too
			return answeredMsg{}
		})
	}
	first := p.quiet == 0
	p.quiet = time.Since(p.asked)
	m.sayQuiet()
	cmds := []tea.Cmd{m.beat()}
	if first {
		for _, k := range m.ahead {
			if !slices.Contains([]string{"q", "esc", "ctrl+c"}, k.String()) {
				break // what comes after it may have been typed into something
			}
			cmds = append(cmds, m.withoutAnswer(k))
		}
		m.ahead = nil
	}
	return tea.Batch(cmds...)
}

func (m *model) sayQuiet() {
	words := fmt.Sprintf("No answer for %d s: this is how the desk was seen last. q quits.", max(1, int(m.pulse.quiet.Seconds())))
	m.mention(words, true)
	m.pulse.words = words
}

// answers takes it up that the keeper has answered.
func (m *model) answers() tea.Cmd {
	if m.pulse.quiet > 0 && !m.gone {
		m.mention("There is an answer again.", false)
	}
	m.pulse.asked, m.pulse.quiet, m.pulse.words = time.Time{}, 0, ""
	return m.beat()
}

// isPulse tells whether a message is only about whether the keeper answers.
func isPulse(msg tea.Msg) bool {
	switch msg.(type) {
	case pulseMsg, answeredMsg:
		return true
	}
	return false
}

// withoutAnswer follows a key while a command of ours is out and nobody answers: those that
// leave work, and no other waits for what may never come.
func (m *model) withoutAnswer(k tea.KeyPressMsg) tea.Cmd {
	switch name := k.String(); {
	case name == "q" && !m.typing(), name == "ctrl+c":
		return m.quit()
	case name == "esc":
		cmd := m.key(k)
		m.sayQuiet()
		return cmd
	}
	m.sayQuiet()
	return nil
}

// lastSeen tells that the desk may be another by now.
func (m *model) lastSeen() bool { return m.gone || m.pulse.quiet > 0 }
