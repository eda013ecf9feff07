package remote

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"net"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"sync"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/plate"
	"zatlas/internal/scene"
)

// Client reaches a keeper over its socket.
type Client struct {
	path string
	http *http.Client
	why  func(error) error // says better why nobody was reached; nil where nothing does
	// capped has what is told read as from one who is not to be trusted.
	capped bool

	mu   sync.Mutex
	last []held // the latest last
}

// held is a desk that was told, and of which update.
type held struct {
	point
	desk *desk.Desk
}

// maxHeld is how many desks a client keeps: a command may be answered after the next
// update has come.
const maxHeld = 4

func (c *Client) hold(h held) {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.last = append(c.last[max(0, len(c.last)+1-maxHeld):], h)
}

// latest is the desk that was told last; of its zero value where none was.
func (c *Client) latest() held {
	c.mu.Lock()
	defer c.mu.Unlock()
	if len(c.last) == 0 {
		return held{}
	}
	return c.last[len(c.last)-1]
}

var _ keeper.Access = (*Client)(nil)

// Dial finds the keeper at a socket. The error is ErrNoKeeper where none answers.
func Dial(path string) (*Client, error) {
	conn, err := reach(context.Background(), path)
	if err != nil {
		if gone(err) {
			return nil, ErrNoKeeper
		}
		return nil, fmt.Errorf("reaching the keeper: %w", err)
	}
	conn.Close()
	dial := func(ctx context.Context, _, _ string) (net.Conn, error) { return reach(ctx, path) }
	return &Client{path: path, http: &http.Client{Transport: &http.Transport{DialContext: dial}}}, nil
}

// The host's name in the addresses means nothing: the socket says where.
const address = "http://keeper"

// Do has the keeper carry out a command.
func (c *Client) Do(ctx context.Context, cmd desk.Command, source keeper.Source) (keeper.Outcome, error) {
	return c.ask(ctx, doRequest{Command: lang.Print(cmd), Source: string(source), Hand: cmd.Hand})
}

// DoNamed has the keeper carry out a command of the command line under a name, by which Done
// asks again. The command goes on when the context ends.
func (c *Client) DoNamed(ctx context.Context, cmd desk.Command, name string) (keeper.Outcome, error) {
	return c.ask(ctx, doRequest{Command: lang.Print(cmd), Source: string(keeper.Line), Name: name})
}

// Done waits until a command that was asked for under a name is done, and tells what became
// of it.
func (c *Client) Done(ctx context.Context, name string) (keeper.Outcome, error) {
	resp, err := c.send(ctx, http.MethodGet, "/done?name="+url.QueryEscape(name), nil)
	if err != nil {
		return keeper.Outcome{}, err
	}
	return c.outcome(resp, doRequest{Source: string(keeper.Line)}, nil)
}

// Try asks the keeper what a command would do.
func (c *Client) Try(ctx context.Context, cmd desk.Command) (keeper.Outcome, error) {
	return c.ask(ctx, doRequest{Command: lang.Print(cmd), Source: string(keeper.Screen), Dry: true, Since: c.latest().point})
}

// Ping waits until the keeper has a moment.
func (c *Client) Ping(ctx context.Context) error {
	resp, err := c.get(ctx, "/ping")
	if err == nil {
		resp.Body.Close()
	}
	return err
}

// Log gives the keeper's logbook.
func (c *Client) Log(ctx context.Context) ([]keeper.Entry, error) {
	var in []logLine
	if err := c.fetch(ctx, "/log", "logbook", &in); err != nil {
		return nil, err
	}
	lines := make([]keeper.Entry, len(in))
	for i, l := range in {
		lines[i] = keeper.Entry{At: time.UnixMilli(l.At), Source: keeper.Source(clean(l.Source)), Words: clean(l.Words), Gone: l.Gone}
		if l.Back != "" {
			back, err := lang.ParseCommand(l.Back)
			if err != nil {
				return nil, fmt.Errorf("the keeper's logbook cannot be read: %w", err)
			}
			lines[i].Back = back
		}
	}
	return lines, nil
}

// Apps lists the apps that run or can be started.
func (c *Client) Apps(ctx context.Context) ([]keeper.App, error) {
	var list []keeper.App
	if err := c.fetch(ctx, "/apps", "list of apps", &list); err != nil {
		return nil, err
	}
	for i := range list {
		list[i].Name, list[i].Title = clean(list[i].Name), clean(list[i].Title)
	}
	return list, nil
}

// Plates lists the plates that the keeper has.
func (c *Client) Plates(ctx context.Context) ([]keeper.Shelved, error) {
	var in []plateLine
	if err := c.fetch(ctx, "/plates", "list of plates", &in); err != nil {
		return nil, err
	}
	list := make([]keeper.Shelved, len(in))
	for i, l := range in {
		if l.Plate == nil {
			list[i].Fault = plate.Fault{Name: desk.CleanName(l.Name), Words: clean(l.Fault)}
			continue
		}
		err := desk.CheckPlateName(l.Name)
		if err == nil {
			list[i].Plate, err = scene.ReadPlate(bytes.NewReader(l.Plate), l.Name)
		}
		if err != nil {
			return nil, fmt.Errorf("the keeper's list of plates cannot be read: %w", err)
		}
		if l.Laid != 0 {
			list[i].Laid = time.UnixMilli(l.Laid)
		}
	}
	return list, nil
}

// Keys lists the chords of the keeper's display.
func (c *Client) Keys(ctx context.Context) ([]keeper.Key, error) {
	var list []keeper.Key
	if err := c.fetch(ctx, "/keys", "list of chords", &list); err != nil {
		return nil, err
	}
	for i, k := range list {
		list[i] = cleanKey(k)
	}
	return list, nil
}

// Key tells what would become of a chord, or which is pressed next.
func (c *Client) Key(ctx context.Context, ask keeper.KeyAsk) (keeper.Key, error) {
	body, err := json.Marshal(ask)
	if err != nil {
		return keeper.Key{}, err
	}
	resp, err := c.send(ctx, http.MethodPost, "/key", bytes.NewReader(body))
	if err != nil {
		return keeper.Key{}, err
	}
	defer resp.Body.Close()
	var answer struct {
		keeper.Key
		Error string      `json:"error"`
		Code  keeper.Code `json:"code"`
	}
	if err := json.NewDecoder(resp.Body).Decode(&answer); err != nil {
		return keeper.Key{}, fmt.Errorf("the keeper's answer cannot be read: %w", err)
	}
	if answer.Error != "" {
		return keeper.Key{}, &keeper.Failure{Code: answer.Code, Words: clean(answer.Error)}
	}
	return cleanKey(answer.Key), nil
}

func cleanKey(k keeper.Key) keeper.Key {
	return keeper.Key{Chord: clean(k.Chord), Command: clean(k.Command), State: keeper.KeyState(clean(string(k.State)))}
}

// clean makes words that came over the socket safe to show.
func clean(words string) string { return desk.CleanText(words, desk.MaxWords) }

func (c *Client) ask(ctx context.Context, r doRequest) (keeper.Outcome, error) {
	base := c.base(r.Since)
	body, err := json.Marshal(r)
	if err != nil {
		return keeper.Outcome{}, err
	}
	resp, err := c.send(ctx, http.MethodPost, "/do", bytes.NewReader(body))
	if err != nil {
		return keeper.Outcome{}, err
	}
	return c.outcome(resp, r, base)
}

// outcome reads the answer to a command.
func (c *Client) outcome(resp *http.Response, r doRequest, base *desk.Desk) (o keeper.Outcome, err error) {
	defer resp.Body.Close()
	var answer doReply
	if err := json.NewDecoder(resp.Body).Decode(&answer); err != nil {
		return keeper.Outcome{}, fmt.Errorf("the keeper's answer cannot be read: %w", err)
	}
	o = keeper.Outcome{
		Source: keeper.Source(r.Source), Serial: answer.Serial,
		Result: desk.Report{Words: clean(answer.Words), Goes: answer.Goes, Windows: answer.Windows, Workspace: answer.Workspace},
	}
	switch {
	case resp.StatusCode == http.StatusServiceUnavailable:
		return o, answer.failure()
	case answer.Error != "":
		o.Err = answer.failure()
	case r.Dry && answer.Change != nil:
		o.Desk, err = readAfter(bytes.NewReader(answer.Change), base)
	case r.Dry:
		o.Desk, err = readDesk(bytes.NewReader(answer.Desk))
	}
	return o, err
}

// base is the desk of an update that was told; nil where it is not held any more.
func (c *Client) base(p point) *desk.Desk {
	c.mu.Lock()
	defer c.mu.Unlock()
	for _, h := range c.last {
		if h.point == p {
			return h.desk
		}
	}
	return nil
}

// failure is why a request failed, of the kind that the keeper gave it.
func (r doReply) failure() error {
	return &keeper.Failure{Code: keeper.Code(clean(string(r.Code))), Words: clean(r.Error)}
}

// send sends a request, and gives the answer of a keeper that speaks our version of
// the protocol.
func (c *Client) send(ctx context.Context, method, path string, body io.Reader) (*http.Response, error) {
	req, err := http.NewRequestWithContext(ctx, method, address+path, body)
	if err != nil {
		return nil, err
	}
	req.Header.Set(versionHeader, Version)
	resp, err := c.http.Do(req)
	switch {
	case err != nil && c.why != nil && ctx.Err() == nil:
		return nil, &keeper.Failure{Code: keeper.Gone, Words: c.why(plainer(err)).Error()}
	case err != nil && gone(err):
		return nil, ErrNoKeeper
	case err != nil:
		return nil, fmt.Errorf("reaching the keeper: %w", err)
	}
	resp.Body = c.cap(resp.Body, path)
	if err := agree(resp.Header.Get(versionHeader), "the keeper"); err != nil {
		resp.Body.Close()
		return nil, err
	}
	return resp, nil
}

// Desk is the keeper's desk as it is now.
func (c *Client) Desk(ctx context.Context) (*desk.Desk, error) {
	resp, err := c.get(ctx, "/desk")
	if err != nil {
		return nil, err
	}
	defer resp.Body.Close()
	return readDesk(resp.Body)
}

func (c *Client) get(ctx context.Context, path string) (*http.Response, error) {
	resp, err := c.send(ctx, http.MethodGet, path, nil)
	if err != nil {
		return nil, err
	}
	if resp.StatusCode != http.StatusOK {
		defer resp.Body.Close()
		var answer doReply
		if json.NewDecoder(resp.Body).Decode(&answer) == nil && answer.Error != "" {
			return nil, answer.failure()
		}
		return nil, fmt.Errorf("the keeper answered %s", resp.Status)
	}
	return resp, nil
}

// Watch gives the present snapshot and every newer one. The channel closes
// when the context ends, or the keeper does.
func (c *Client) Watch(ctx context.Context) <-chan keeper.Update {
	out := make(chan keeper.Update)
	go func() {
		defer close(out)
		for c.watch(ctx, out) {
		}
	}()
	return out
}

// watch gives snapshots until the connection ends. It tells whether another one is to
// be made, as after news that do not follow on those before.
func (c *Client) watch(ctx context.Context, out chan<- keeper.Update) (again bool) {
	resp, err := c.get(ctx, "/events")
	if code := keeper.CodeOf(err); code == keeper.OtherVersion || code == keeper.NoAnswer || code == keeper.Gone && c.why != nil {
		select {
		case out <- keeper.Update{Err: err}:
		case <-ctx.Done():
		}
	}
	if err != nil {
		return false
	}
	defer resp.Body.Close()
	r := bufio.NewReader(resp.Body)
	lines := maxAnswer
	if !c.capped {
		lines = math.MaxInt
	}
	for last := (held{}); ; {
		u, at, err := readUpdate(r, last, lines)
		if err != nil {
			return errors.Is(err, errGap) && last.desk != nil // once whole, it goes on
		}
		last = held{at, u.Desk}
		c.hold(last)
		select {
		case out <- u:
		case <-ctx.Done():
			return false
		}
	}
}

// errGap is the fault of news that are told as a change of others than were told
// before.
var errGap = errors.New("the keeper's news do not follow on those before")

// readDesk reads a desk as the keeper sends it, as of now.
func readDesk(r io.Reader) (*desk.Desk, error) {
	d, err := scene.Read(r)
	if err != nil {
		return nil, err
	}
	return d.AtTime(time.Now().Unix()), nil
}

// readAfter reads a desk told as a change of another, as of now.
func readAfter(r io.Reader, base *desk.Desk) (*desk.Desk, error) {
	if base == nil {
		return nil, errGap
	}
	d, err := scene.ReadAfter(r, base)
	if err != nil {
		return nil, err
	}
	return d.AtTime(time.Now().Unix()), nil
}

// maxAnswer bounds an answer, and one piece of news, of a keeper of another machine, in
// bytes: a desk of ten thousand windows is smaller.
const maxAnswer = 32 << 20

var errLong = errors.New("what the keeper tells is longer than any desk")

// readLine reads a line of so many bytes at most.
func readLine(r *bufio.Reader, most int) (string, error) {
	var line []byte
	for {
		part, err := r.ReadSlice('\n')
		if line = append(line, part...); len(line) > most {
			return "", errLong
		}
		if !errors.Is(err, bufio.ErrBufferFull) {
			return string(line), err
		}
	}
}

// cap bounds an answer, where it is not news that go on.
func (c *Client) cap(body io.ReadCloser, path string) io.ReadCloser {
	if !c.capped || path == "/events" {
		return body
	}
	return struct {
		io.Reader
		io.Closer
	}{io.LimitReader(body, maxAnswer), body}
}

// plainer is an error of a request without what it was: the sentence around it says so.
func plainer(err error) error {
	var of *url.Error
	if errors.As(err, &of) {
		err = of.Err
	}
	if strings.Contains(err.Error(), "readLoopPeekFail") { // the library's own word for an answer before the question
		return errors.New("malformed HTTP response: what answers is no keeper")
	}
	return err
}

// readUpdate reads one server-sent event, as the server writes it; last is what the
// one before told.
func readUpdate(r *bufio.Reader, last held, most int) (keeper.Update, point, error) {
	var u keeper.Update
	var head newsHead
	var data bytes.Buffer
	first := true
	for {
		line, err := readLine(r, most)
		if err != nil {
			return u, point{}, err
		}
		most -= len(line)
		line = strings.TrimSuffix(line, "\n")
		field, value, _ := strings.Cut(line, ": ")
		switch {
		case line == "":
			switch {
			case head.From == 0:
				u.Desk, err = readDesk(&data)
			case last.point != point{head.Born, head.From}:
				err = errGap
			default:
				u.Desk, err = readAfter(&data, last.desk)
			}
			return u, point{head.Born, u.Serial}, err
		case field == "id":
			u.Serial, err = strconv.Atoi(value)
		case field == "event":
			u.Source = keeper.Source(clean(value))
		case field == "data" && first:
			err = json.Unmarshal([]byte(value), &head)
			u.Words, u.Verb, u.Undo, u.Redo, u.Step, u.Reloads, u.Screen, u.Asked = clean(head.Words), clean(head.Verb), clean(head.Undo), clean(head.Redo), head.Step, head.Reloads, head.Screen, head.Asked
			first = false
		case field == "data":
			data.WriteString(value + "\n")
		}
		if err != nil {
			return u, point{}, fmt.Errorf("the keeper's news cannot be read: %w", err)
		}
	}
}
