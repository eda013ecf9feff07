package remote

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"strconv"
	"time"

	"zatlas/internal/keeper"
	"zatlas/internal/picture"
)

// picturesReply are pictures, and the point they are of.
type picturesReply struct {
	Now      int64          `json:"now"`
	Pictures []pictureReply `json:"pictures"`
}

// pictureReply is a picture in cells of a terminal; see picture.Cells.Pack. Without cells it
// tells that there is none.
type pictureReply struct {
	Window int       `json:"window"`
	W      int       `json:"w"`
	H      int       `json:"h"`
	At     time.Time `json:"at,omitzero"`
	Cells  []byte    `json:"cells,omitempty"`
}

// Pictures has pictures be asked for at an album; nil for none. It is called before Serve.
func (s *Server) Pictures(album *picture.Album) { s.album = album }

// pictures answers with pictures of windows: each window=12 with its cells=30x12. With since
// it waits until there is one that is newer than that point.
func (s *Server) pictures(w http.ResponseWriter, r *http.Request) {
	asks, since, err := readAsks(r.URL.Query())
	if err != nil {
		reply(w, http.StatusBadRequest, failed(&keeper.Failure{Code: keeper.Unreadable, Words: err.Error()}))
		return
	}
	if s.album == nil {
		reply(w, http.StatusNotFound, failed(errNoPictures))
		return
	}
	given, now, err := s.album.Pictures(r.Context(), since, asks)
	if err != nil {
		return // nobody waits any more
	}
	answer, any := picturesReply{Now: now}, false
	for _, c := range given {
		any = any || len(c.Cells) > 0
		answer.Pictures = append(answer.Pictures, pictureReply{c.Window, c.W, c.H, c.At, c.Pack()})
	}
	status := http.StatusOK
	if !any && !r.URL.Query().Has("since") {
		status = http.StatusNotFound
	}
	reply(w, status, answer)
}

var errNoPictures = errors.New("this keeper has no pictures of windows")

// readAsks reads which pictures are asked for.
func readAsks(q url.Values) (asks []picture.Ask, since int64, err error) {
	windows, sizes := q["window"], q["cells"]
	if len(windows) == 0 || len(windows) != len(sizes) || len(windows) > picture.MaxAsks {
		return nil, 0, fmt.Errorf("a picture is asked for by window=12&cells=30x12, at most %d at once", picture.MaxAsks)
	}
	for i := range windows {
		var a picture.Ask
		if a.Window, err = strconv.Atoi(windows[i]); err != nil {
			return nil, 0, fmt.Errorf("%q is the number of no window", windows[i])
		}
		n, err := fmt.Sscanf(sizes[i], "%dx%d", &a.W, &a.H)
		if n != 2 || err != nil || a.W < 1 || a.H < 1 || a.W > picture.MaxSide || a.H > picture.MaxSide {
			return nil, 0, fmt.Errorf("%q is no size in cells, from 1x1 to %dx%d", sizes[i], picture.MaxSide, picture.MaxSide)
		}
		asks = append(asks, a)
	}
	if text := q.Get("since"); text != "" {
		if since, err = strconv.ParseInt(text, 10, 64); err != nil {
			return nil, 0, fmt.Errorf("since=%q is no point that was given", text)
		}
	}
	return asks, since, nil
}

// Pictures gives pictures of the keeper's windows: see picture.Source. Where the keeper has
// none at all the error is errors.ErrUnsupported.
func (c *Client) Pictures(ctx context.Context, since int64, asks []picture.Ask) ([]picture.Cells, int64, error) {
	q := url.Values{"since": {strconv.FormatInt(since, 10)}}
	for _, a := range asks {
		q.Add("window", strconv.Itoa(a.Window))
		q.Add("cells", fmt.Sprintf("%dx%d", a.W, a.H))
	}
	resp, err := c.send(ctx, http.MethodGet, "/picture?"+q.Encode(), nil)
	if err != nil {
		return nil, since, err
	}
	defer resp.Body.Close()
	if resp.StatusCode == http.StatusNotFound {
		return nil, since, errors.ErrUnsupported
	}
	if resp.StatusCode != http.StatusOK {
		return nil, since, fmt.Errorf("the keeper answered %s", resp.Status)
	}
	var answer picturesReply
	if err := json.NewDecoder(resp.Body).Decode(&answer); err != nil {
		return nil, since, fmt.Errorf("pictures cannot be read: %w", err)
	}
	var given []picture.Cells
	for _, p := range answer.Pictures {
		if p.W < 1 || p.H < 1 || p.W > picture.MaxSide || p.H > picture.MaxSide {
			return nil, since, errors.New("pictures cannot be read: one has no size")
		}
		cells := picture.Cells{Window: p.Window, W: p.W, H: p.H, At: p.At.Local()}
		if err := cells.Unpack(p.Cells); err != nil {
			return nil, since, err
		}
		given = append(given, cells)
	}
	return given, answer.Now, nil
}

var _ picture.Source = (*Client)(nil)
