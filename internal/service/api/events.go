package api

import (
	"net/http"

	"github.com/danielgtaylor/huma/v2"
)

// eventsOperation describes the events, which are no answer that ends.
var eventsOperation = &huma.Operation{
	OperationID: "events", Method: http.MethodGet, Path: "/api/rooms/{room}/events", Summary: "What happens at a room, as server-sent events", Tags: []string{"tables"},
	Description: "The messages of the socket, one an event, for what cannot hold a socket. The key may come as ?key= where a header cannot be set. " +
		"Who comes back with Last-Event-ID is told what they missed.",
	Security: []map[string][]string{{seat: {}}},
	Parameters: []*huma.Param{
		{Name: "room", In: "path", Required: true, Schema: &huma.Schema{Type: huma.TypeString}},
		{Name: "key", In: "query", Schema: &huma.Schema{Type: huma.TypeString}, Description: "The seat key, where the header cannot be set."},
		{Name: "Last-Event-ID", In: "header", Schema: &huma.Schema{Type: huma.TypeString}, Description: "The id of the last event that you heard."},
	},
	Responses: map[string]*huma.Response{
		"200": {Description: "Events, until the line ends.", Content: map[string]*huma.MediaType{"text/event-stream": {Schema: &huma.Schema{Type: huma.TypeString}}}},
		"401": {Description: "Needs a seat key"}, "403": {Description: "A page of another address"}, "429": {Description: "Too many"}, "503": {Description: "The database is gone"},
	},
}
