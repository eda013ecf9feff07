// Package sim is a host without a display: a desk whose windows are made up.
// Its windows do as they are asked.
package sim

import (
	"zatlas/internal/desk"
	"zatlas/internal/keeper"
)

// Host is a simulated display.
type Host struct {
	wake   chan struct{}
	events []keeper.Event
}

var _ keeper.Host = (*Host)(nil)

// New makes a simulated display.
func New() *Host { return &Host{wake: make(chan struct{}, 1)} }

// Wake gets a value when Take has something.
func (h *Host) Wake() <-chan struct{} { return h.wake }

// Take gives what happened.
func (h *Host) Take() ([]keeper.Event, error) {
	events := h.events
	h.events = nil
	return events, nil
}

// Show has nothing to do: the desk is all there is.
func (h *Host) Show(*desk.Desk) {}

// Close closes windows, as their programs would.
func (h *Host) Close(ids []int) {
	for _, id := range ids {
		h.events = append(h.events, keeper.Event{Fact: desk.Closed{ID: id}})
	}
	select {
	case h.wake <- struct{}{}:
	default:
	}
}

// Tell has nobody to tell.
func (h *Host) Tell(keeper.Outcome) {}

// Stop has nothing to end.
func (h *Host) Stop() {}
