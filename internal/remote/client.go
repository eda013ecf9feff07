package remote

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net"
	"net/http"
	"strconv"
	"strings"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/scene"
)

// Client reaches a keeper over its socket.
type Client struct {
	path string
	http *http.Client
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

// Try asks the keeper what a command would do.
func (c *Client) Try(ctx context.Context, cmd desk.Command) (keeper.Outcome, error) {
	return c.ask(ctx, doRequest{Command: lang.Print(cmd), Source: string(keeper.Screen), Dry: true})
}

// Log gives the keeper's logbook.
func (c *Client) Log(ctx context.Context) ([]keeper.Entry, error) {
	resp, err := c.get(ctx, "/log")
	if err != nil {
		return nil, err
	}
	defer resp.Body.Close()
	var in []logLine
	if err := json.NewDecoder(resp.Body).Decode(&in); err != nil {
		return nil, fmt.Errorf("the keeper's logbook cannot be read: %w", err)
	}
	lines := make([]keeper.Entry, len(in))
	for i, l := range in {
		lines[i] = keeper.Entry{At: time.UnixMilli(l.At), Source: keeper.Source(clean(l.Source)), Words: clean(l.Words), Gone: l.Gone}
		if l.Back != "" {
			if lines[i].Back, err = lang.ParseCommand(l.Back); err != nil {
				return nil, fmt.Errorf("the keeper's logbook cannot be read: %w", err)
			}
		}
	}
	return lines, nil
}

// Apps lists the apps that run or can be started.
func (c *Client) Apps(ctx context.Context) ([]keeper.App, error) {
	resp, err := c.get(ctx, "/apps")
	if err != nil {
		return nil, err
	}
	defer resp.Body.Close()
	var list []keeper.App
	if err := json.NewDecoder(resp.Body).Decode(&list); err != nil {
		return nil, fmt.Errorf("the keeper's list of apps cannot be read: %w", err)
	}
	for i := range list {
		list[i].Name, list[i].Title = clean(list[i].Name), clean(list[i].Title)
	}
	return list, nil
}

// clean makes words that came over the socket safe to show.
func clean(words string) string { return desk.CleanText(words, desk.MaxWords) }

func (c *Client) ask(ctx context.Context, r doRequest) (keeper.Outcome, error) {
	body, err := json.Marshal(r)
	if err != nil {
		return keeper.Outcome{}, err
	}
	resp, err := c.send(ctx, http.MethodPost, "/do", bytes.NewReader(body))
	if err != nil {
		return keeper.Outcome{}, err
	}
	defer resp.Body.Close()
	var answer doReply
	if err := json.NewDecoder(resp.Body).Decode(&answer); err != nil {
		return keeper.Outcome{}, fmt.Errorf("the keeper's answer cannot be read: %w", err)
	}
	o := keeper.Outcome{
		Source: keeper.Source(r.Source), Serial: answer.Serial,
		Result: desk.Report{Words: clean(answer.Words), Goes: answer.Goes, Windows: answer.Windows, Workspace: answer.Workspace},
	}
	switch {
	case resp.StatusCode == http.StatusServiceUnavailable:
		return o, answer.failure()
	case answer.Error != "":
		o.Err = answer.failure()
	case r.Dry:
		o.Desk, err = readDesk(bytes.NewReader(answer.Desk))
	}
	return o, err
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
	case err != nil && gone(err):
		return nil, ErrNoKeeper
	case err != nil:
		return nil, fmt.Errorf("reaching the keeper: %w", err)
	}
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
		resp, err := c.get(ctx, "/events")
		if keeper.CodeOf(err) == keeper.OtherVersion {
			select {
			case out <- keeper.Update{Err: err}:
			case <-ctx.Done():
			}
		}
		if err != nil {
			return
		}
		defer resp.Body.Close()
		r := bufio.NewReader(resp.Body)
		for {
			u, err := readUpdate(r)
			if err != nil {
				return
			}
			select {
			case out <- u:
			case <-ctx.Done():
				return
			}
		}
	}()
	return out
}

// readDesk reads a desk as the keeper sends it, as of now.
func readDesk(r io.Reader) (*desk.Desk, error) {
	d, err := scene.Read(r)
	if err != nil {
		return nil, err
	}
	return d.AtTime(time.Now().Unix()), nil
}

// readUpdate reads one server-sent event, as the server writes it.
func readUpdate(r *bufio.Reader) (keeper.Update, error) {
	var u keeper.Update
	var data bytes.Buffer
	first := true
	for {
		line, err := r.ReadString('\n')
		if err != nil {
			return u, err
		}
		line = strings.TrimSuffix(line, "\n")
		field, value, _ := strings.Cut(line, ": ")
		switch {
		case line == "":
			u.Desk, err = readDesk(&data)
			return u, err
		case field == "id":
			u.Serial, err = strconv.Atoi(value)
		case field == "event":
			u.Source = keeper.Source(clean(value))
		case field == "data" && first:
			var head newsHead
			err = json.Unmarshal([]byte(value), &head)
			u.Words, u.Undo, u.Redo, u.Reloads, u.Screen, u.Asked = clean(head.Words), clean(head.Undo), clean(head.Redo), head.Reloads, head.Screen, head.Asked
			first = false
		case field == "data":
			data.WriteString(value + "\n")
		}
		if err != nil {
			return u, fmt.Errorf("the keeper's news cannot be read: %w", err)
		}
	}
}
