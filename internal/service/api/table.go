package api

import (
	"bytes"
	"context"
	"crypto/sha256"
	"damselfly.example/damselfly/internal/service/socket"
	"damselfly.example/damselfly/internal/service/web"
	"encoding/hex"
	"encoding/json"
	"errors"
	"net/http"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/wire"
)

type looked struct {
	Tag  string `header:"ETag"`
	Body wire.Look
}

// lookedAt is who looks, and what they saw last.
type lookedAt struct {
	InRoom
	Seen string `header:"If-None-Match" doc:"The ETag of a view that you have: if it is the same still, the answer is 304, without it."`
}

// tagOf names a view by what stands in it.
func tagOf(look wire.Look) (string, error) {
	text, err := json.Marshal(look)
	sum := sha256.Sum256(text)
	return `"` + hex.EncodeToString(sum[:12]) + `"`, err
}

type request struct {
	InRoom
	Body wanted
}

type wanted struct {
	ID     string `json:"id,omitempty" maxLength:"64" doc:"Your own id for this request. Sent again with the same id it is done once."`
	Action action `json:"action,omitempty"`
	Steps  string `json:"steps,omitempty" maxLength:"65536" doc:"Steps in words, in place of an action, such as \"draw 2 from weather\"."`

	Confirm string `json:"confirm,omitempty" maxLength:"65536" doc:"The very text of cues that may do what only you can see; see the problem needs-confirming."`
}

// UnmarshalJSON names fields that are not known, as the description's checks do elsewhere.
func (w *wanted) UnmarshalJSON(text []byte) error {
	type fields wanted
	decoder := json.NewDecoder(bytes.NewReader(text))
	decoder.DisallowUnknownFields()
	err := decoder.Decode((*fields)(w))
	if err != nil {
		if field, is := strings.CutPrefix(err.Error(), "json: unknown field "); is {
			return errors.New(field + web.NotKnown)
		}
	}
	return err
}

type answered struct {
	Body wire.Answer
}

type readLog struct {
	InRoom
	Last  int   `query:"last" minimum:"1" maximum:"200" default:"50" doc:"How many lines, counted from the end."`
	After int64 `query:"after" minimum:"-1" default:"-1" doc:"In place of the end: the lines after the one of this number, the oldest first; 0 from the beginning."`
	Limit int   `query:"limit" minimum:"1" maximum:"500" default:"200" doc:"With after: how many lines at most."`
}

type logRead struct {
	Body wire.Log
}

// action is an action of core/table as JSON. Its description is made from the
// Go types there.
type action json.RawMessage

// UnmarshalJSON keeps the text; core/table reads it.
func (a *action) UnmarshalJSON(text []byte) error {
	*a = append((*a)[:0], text...)
	return nil
}

// Schema describes all kinds of actions as one of several objects, told apart
// by "do".
func (action) Schema(r huma.Registry) *huma.Schema {
	const name = "Action"
	if _, described := r.Map()[name]; !described {
		one := &huma.Schema{Description: "What a seat wants done.", Discriminator: &huma.Discriminator{PropertyName: "do", Mapping: map[string]string{}}}
		r.Map()[name] = one
		for _, kind := range table.ActionKinds() {
			if kind.By == table.Service { // joining and leaving do these
				continue
			}
			t := kind.Type()
			schema := huma.SchemaFromType(r, t)
			if kind.Word == "all" {
				schema.Description = "Several actions as one, in their order. Of a refusal that rests on nothing hidden nothing is done; otherwise what came before the refused one stands."
				schema.Properties["actions"] = &huma.Schema{Type: huma.TypeArray, Items: &huma.Schema{Ref: "#/components/schemas/" + name}}
			}
			schema.Properties["do"] = &huma.Schema{Type: huma.TypeString, Enum: []any{kind.Word}}
			schema.Required = append(schema.Required, "do")
			schema.AdditionalProperties = true
			title := "Action" + t.Name()
			r.Map()[title] = schema
			one.OneOf = append(one.OneOf, &huma.Schema{Ref: "#/components/schemas/" + title})
			one.Discriminator.Mapping[kind.Word] = "#/components/schemas/" + title
		}
	}
	return &huma.Schema{Ref: "#/components/schemas/" + name}
}

func (a *API) tableRoutes(h huma.API) {
	tags := []string{"table"}
	route(a, h, seat, huma.Operation{
		OperationID: "look", Method: http.MethodGet, Path: "/api/rooms/{room}/view", Summary: "The table as you may see it", Tags: tags,
	}, func(ctx context.Context, in *lookedAt) (*looked, error) {
		look, err := a.Rooms.View(ctx, in.Room, socket.At(callerOf(ctx).seat))
		if err != nil {
			return nil, err
		}
		tag, err := tagOf(look)
		if err == nil && tag == in.Seen {
			return nil, huma.Status304NotModified()
		}
		return &looked{tag, look}, err
	})
	route(a, h, seat, huma.Operation{
		OperationID: "act", Method: http.MethodPost, Path: "/api/rooms/{room}/actions", Summary: "Do something", Tags: tags,
		Description: "Answered when it is kept and everyone was told. A refusal is a problem with a code, a sentence and its numbers; " +
			"the table is then as it was, unless \"stands\" says that the steps before \"step\" were done.",
		MaxBodyBytes:     stepsBody,
		SkipValidateBody: true, // the core says better what is wrong with an action
		Errors:           []int{400, 403, 404, 409, 429, 503},
	}, func(ctx context.Context, in *request) (*answered, error) {
		who := callerOf(ctx).seat
		if err := a.people.Paced(who.Room, socket.At(who)); err != nil {
			return nil, err
		}
		answer, err := a.Rooms.Act(ctx, in.Room, socket.At(who), wire.Request{ID: in.Body.ID, Action: json.RawMessage(in.Body.Action), Steps: in.Body.Steps, Confirm: in.Body.Confirm})
		return &answered{answer}, err
	})
	route(a, h, seat, huma.Operation{
		OperationID: "read-log", Method: http.MethodGet, Path: "/api/rooms/{room}/log", Summary: "Who did what", Tags: tags,
	}, func(ctx context.Context, in *readLog) (*logRead, error) {
		if in.After >= 0 {
			lines, more, err := a.Rooms.LogAfter(ctx, in.Room, socket.At(callerOf(ctx).seat), in.After, in.Limit)
			return &logRead{wire.Log{Lines: append([]wire.LogLine{}, lines...), More: more}}, err
		}
		lines, err := a.Rooms.Log(ctx, in.Room, socket.At(callerOf(ctx).seat), in.Last)
		return &logRead{wire.Log{Lines: lines}}, err
	})
}
