package x11

import (
	"fmt"
	"slices"
)

// Missed tells of a window that is not shown as the desk has it, where that was shown just now:
// empty for none. Show leaves out windows that it takes to be shown so already.
func (h *Host) Missed() string {
	p := h.pictures.Of(h.desk)
	all := h.paired(p)
	state := func(c *client) string {
		return fmt.Sprint(c.rect, c.width, c.colour, c.grabbed, c.told, c.netState, c.actions, c.extents)
	}
	was := make([]string, len(all))
	for i, c := range all {
		was[i] = state(c.client)
	}
	h.paintBordersAgain()
	for i, c := range all {
		h.place(c.client, c.as)
		h.writeState(c.client, c.as)
		if now := state(c.client); now != was[i] || c.mapped != c.as.Shown {
			return fmt.Sprintf("window %d, mapped %t and to be %t, was %s and is to be %s", c.id, c.mapped, c.as.Shown, was[i], now)
		}
	}
	if all, top := h.lists(h.desk); !slices.Equal(all, h.told.clients) || !slices.Equal(top, h.told.clientsTop) {
		return fmt.Sprintf("the lists on the root are %v and %v, and are to be %v and %v", h.told.clients, h.told.clientsTop, all, top)
	}
	layers := slices.Clone(h.layers)
	if h.restack(p, true); !slices.Equal(h.layers, layers) {
		return fmt.Sprintf("the order was %v and is to be %v", layers, h.layers)
	}
	return ""
}
