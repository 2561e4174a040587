// Package client speaks to a Damselfly service from Go.
//
//	maker := client.New("http://127.0.0.1:7171", makerKey)
//	room, err := maker.OpenRoom(ctx, client.OpenRoom{Kit: "Marsh Post"})
//	joined, err := maker.Join(ctx, room.ID, client.Join{Name: "Ada"})
//	ada := maker.At(joined)
//	answer, err := ada.Do(ctx, "draw 2 from weather to my hand")
//
// Errors the service answers with are *Problem.
package client

import (
	"bytes"
	"context"
	"crypto/rand"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"time"

	"damselfly.example/damselfly/internal/core/sight"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/wire"
)

// The shapes of the service's answers.
type (
	Problem    = wire.Problem
	Maker      = wire.Maker
	MakerIn    = wire.MakerIn
	Kit        = wire.Kit
	KitPut     = wire.KitPut
	OpenRoom   = wire.OpenRoom
	Room       = wire.Room
	RoomRow    = wire.RoomRow
	Join       = wire.Join
	Joined     = wire.Joined
	Look       = wire.Look
	View       = sight.View
	Answer     = wire.Answer
	LogLine    = wire.LogLine
	Piece      = table.Piece
	Message    = wire.Message
	Whole      = wire.Whole
	Resumed    = wire.Resumed
	Changes    = wire.Changes
	Settled    = wire.Settled
	Present    = wire.Present
	Notice     = wire.Notice
	Gripping   = wire.Gripping
	Pointing   = wire.Pointing
	Face       = sight.Face
	TablePlace = sight.Place // of a view
	TableCard  = sight.Card
	TableSeat  = sight.Seat
	PicturePut = wire.PicturePut
)

// Client calls a service with one key. It is safe for concurrent use.
type Client struct {
	base string
	key  string
	http *http.Client
}

// New makes a client for the service at an address such as
// "http://127.0.0.1:7171", with a maker key, or none.
func New(address, key string) *Client {
	return &Client{base: strings.TrimSuffix(address, "/"), key: key, http: &http.Client{}}
}

// Key is the key the client shows.
func (c *Client) Key() string { return c.key }

// PutKit uploads a zip of size bytes. Unless despite is set, a kit that looks
// wrong is refused with its warnings in the Problem's Details.
func (c *Client) PutKit(ctx context.Context, zip io.Reader, size int64, despite bool) (KitPut, error) {
	var put KitPut
	r, err := http.NewRequestWithContext(ctx, http.MethodPost, c.base+"/api/kits?despite_warnings="+strconv.FormatBool(despite), zip)
	if err != nil {
		return put, err
	}
	r.ContentLength = size
	r.Header.Set("Content-Type", "application/zip")
	return put, c.send(r, &put)
}

// Kit takes a kit away as one zip: the files of its newest edition.
func (c *Client) Kit(ctx context.Context, kit string) ([]byte, error) {
	var zip []byte
	err := c.call(ctx, http.MethodGet, "/api/kits/"+url.PathEscape(kit)+"/zip", nil, &zip)
	return zip, err
}

// Kits lists the maker's kits.
func (c *Client) Kits(ctx context.Context) ([]Kit, error) {
	var out struct{ Kits []Kit }
	err := c.call(ctx, http.MethodGet, "/api/kits", nil, &out)
	return out.Kits, err
}

// KeepTable keeps the table of a room as it is laid in a new edition of its kit.
func (c *Client) KeepTable(ctx context.Context, room string) (KitPut, error) {
	var put KitPut
	return put, c.call(ctx, http.MethodPost, "/api/rooms/"+url.PathEscape(room)+"/keep-table", nil, &put)
}

// OpenRoom opens a room with a kit's newest edition, or with one of its decks alone. Where a name is given with As, At
// acts from the seat in the answer.
func (c *Client) OpenRoom(ctx context.Context, o OpenRoom) (Room, error) {
	var room Room
	return room, c.call(ctx, http.MethodPost, "/api/rooms", o, &room)
}

// Rooms lists the maker's rooms, the newest first.
func (c *Client) Rooms(ctx context.Context) ([]RoomRow, error) {
	var out struct{ Rooms []RoomRow }
	err := c.call(ctx, http.MethodGet, "/api/rooms", nil, &out)
	return out.Rooms, err
}

// Room shows a room as anyone with its link sees it.
func (c *Client) Room(ctx context.Context, id string) (Room, error) {
	var room Room
	return room, c.call(ctx, http.MethodGet, "/api/rooms/"+url.PathEscape(id), nil, &room)
}

// Join takes a seat in a room, or watches. Without a salt or an id one is made up.
// It is asked a second time if the connection broke before the answer, and done once.
func (c *Client) Join(ctx context.Context, room string, j Join) (Joined, error) {
	if j.Salt == "" {
		j.Salt = rand.Text()
	}
	if j.ID == "" {
		j.ID = rand.Text()
	}
	var joined Joined
	err := c.call(ctx, http.MethodPost, "/api/rooms/"+url.PathEscape(room)+"/join", j, &joined)
	if brokeOff(err) && ctx.Err() == nil {
		err = c.call(ctx, http.MethodPost, "/api/rooms/"+url.PathEscape(room)+"/join", j, &joined)
	}
	return joined, err
}

// At is the room as seen from the seat that joining gave.
func (c *Client) At(j Joined) *Seat {
	return &Seat{Joined: j, client: Client{base: c.base, key: j.Key, http: c.http}}
}

// Seat is a place at a room's table.
type Seat struct {
	Joined Joined
	client Client
}

func (s *Seat) path(rest string) string { return "/api/rooms/" + url.PathEscape(s.Joined.Room) + rest }

// Look returns the table as this seat may see it.
func (s *Seat) Look(ctx context.Context) (Look, error) {
	var look Look
	return look, s.client.call(ctx, http.MethodGet, s.path("/view"), nil, &look)
}

// Do does what Steps say.
func (s *Seat) Do(ctx context.Context, steps string) (Answer, error) {
	return s.request(ctx, wire.Request{Steps: steps})
}

// DoConfirmed does what Steps say, and confirms the text of the cues that they run,
// where those would do what only this seat can see. See the problem needs-confirming.
func (s *Seat) DoConfirmed(ctx context.Context, steps, text string) (Answer, error) {
	return s.request(ctx, wire.Request{Steps: steps, Confirm: text})
}

// Act does one action. Cards in it are named by their handles.
func (s *Seat) Act(ctx context.Context, a Action) (Answer, error) {
	text, err := table.WriteAction(a)
	if err != nil {
		return Answer{}, err
	}
	return s.request(ctx, wire.Request{Action: text})
}

// mostTries is how often a request is sent, and longestWait how many seconds it waits between where the service says how long.
const (
	mostTries   = 5
	longestWait = 5
)

// request sends a request with an id of its own, and again if the connection broke before the answer, or the service said
// that it may go well in a moment: who acts too fast is slowed down. It is done once.
func (s *Seat) request(ctx context.Context, r wire.Request) (answer Answer, err error) {
	r.ID = rand.Text()
	lost := 0
	for range mostTries {
		err = s.client.call(ctx, http.MethodPost, s.path("/actions"), r, &answer)
		wait := time.Duration(0)
		var problem *Problem
		switch {
		case errors.As(err, &problem) && problem.After > 0 && problem.After <= longestWait:
			wait = time.Duration(problem.After) * time.Second
		case brokeOff(err) && lost == 0:
			lost++
		default:
			return answer, err
		}
		select {
		case <-ctx.Done():
			return answer, err
		case <-time.After(wait):
		}
	}
	return answer, err
}

// PutPicture brings a picture for a token or a mat to the table: PNG, JPEG, WebP or
// GIF. The answer names it for LayPiece and LayTable.
func (s *Seat) PutPicture(ctx context.Context, picture []byte) (PicturePut, error) {
	var put PicturePut
	r, err := http.NewRequestWithContext(ctx, http.MethodPost, s.client.base+s.path("/pictures"), bytes.NewReader(picture))
	if err != nil {
		return put, err
	}
	r.Header.Set("Content-Type", "application/octet-stream")
	return put, s.client.send(r, &put)
}

// CheckSteps reads Steps as the seat would do them and does nothing. The mistake is
// empty if there is none.
func (s *Seat) CheckSteps(ctx context.Context, text string) (wire.StepsChecked, error) {
	var checked wire.StepsChecked
	return checked, s.client.call(ctx, http.MethodPost, s.path("/check-steps"), map[string]string{"steps": text}, &checked)
}

// HandOn gives a seat (the own one for 0, for the host any) to somebody else,
// and returns the new key to it. The old one ends.
func (s *Seat) HandOn(ctx context.Context, seat SeatNumber, name string) (Joined, error) {
	var joined Joined
	return joined, s.client.call(ctx, http.MethodPost, s.path("/hand-on"), wire.HandOn{Seat: seat, Name: name}, &joined)
}

// Log returns the last lines of the log, at most 200.
func (s *Seat) Log(ctx context.Context, last int) ([]LogLine, error) {
	var out wire.Log
	err := s.client.call(ctx, http.MethodGet, s.path("/log?last="+strconv.Itoa(last)), nil, &out)
	return out.Lines, err
}

// LogAfter reads the log from a line on, the oldest first; more tells that there are lines after them.
func (s *Seat) LogAfter(ctx context.Context, after int64, limit int) (lines []LogLine, more bool, err error) {
	var out wire.Log
	err = s.client.call(ctx, http.MethodGet, s.path(fmt.Sprintf("/log?after=%d&limit=%d", after, limit)), nil, &out)
	return out.Lines, out.More, err
}

func (c *Client) call(ctx context.Context, method, path string, in, out any) error {
	var body io.Reader
	if in != nil {
		text, err := json.Marshal(in)
		if err != nil {
			return err
		}
		body = bytes.NewReader(text)
	}
	r, err := http.NewRequestWithContext(ctx, method, c.base+path, body)
	if err != nil {
		return err
	}
	if in != nil {
		r.Header.Set("Content-Type", "application/json")
	}
	return c.send(r, out)
}

// askedFirst is from how many bytes on the service looks at rights and shares before it reads them.
const askedFirst = 64 << 10

// send sends a request and reads its answer, or the problem.
func (c *Client) send(r *http.Request, out any) error {
	if c.key != "" {
		r.Header.Set("Authorization", "Bearer "+c.key)
	}
	if r.Body != nil && (r.ContentLength < 0 || r.ContentLength > askedFirst) {
		r.Header.Set("Expect", "100-continue") // a refusal comes before the body then, and is not lost in a line that breaks
	}
	ctx, end := context.WithCancelCause(r.Context())
	defer end(nil)
	response, err := c.do(ctx, end, r)
	if err != nil {
		return err
	}
	defer response.Body.Close()
	if to, is := out.(io.Writer); is && response.StatusCode < 400 {
		_, err := io.Copy(to, response.Body)
		return err
	}
	text, err := io.ReadAll(response.Body)
	if err != nil {
		return fmt.Errorf("reading the answer: %w", err)
	}
	if response.StatusCode >= 400 {
		var p Problem
		if err := json.Unmarshal(text, &p); err != nil || p.Code == "" {
			return fmt.Errorf("%s answered %s, which is no answer of Damselfly; is the address right?", c.base, response.Status)
		}
		p.After, _ = strconv.Atoi(response.Header.Get("Retry-After")) // not said: 0
		return &p
	}
	if out == nil {
		return nil
	}
	if file, is := out.(*[]byte); is {
		*file = text
		return nil
	}
	if err := json.Unmarshal(text, out); err != nil {
		return fmt.Errorf("%s gave an answer that is not understood; is the address right? (%w)", c.base, err)
	}
	return nil
}
