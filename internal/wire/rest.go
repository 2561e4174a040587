package wire

import (
	"damselfly.example/damselfly/internal/core/sight"
	"damselfly.example/damselfly/internal/core/table"
)

// GetStatus makes a Problem an answer of the REST API.
func (p *Problem) GetStatus() int { return p.Status }

// ContentType is the media type of problems, RFC 9457.
func (*Problem) ContentType(string) string { return "application/problem+json" }

// Maker is a named person with a shelf.
type Maker struct {
	ID    string     `json:"id"`
	Name  string     `json:"name"`
	At    int64      `json:"at" doc:"Since when, milliseconds since 1970."`
	Ended bool       `json:"ended,omitempty" doc:"None of their keys opens anything any more."`
	Keys  []MakerKey `json:"keys,omitempty" doc:"Those that open their shelf, for the keeper."`
}

// MakerKey is what is known of a maker's key: not the key.
type MakerKey struct {
	Name   string `json:"name" doc:"By which it can be ended."`
	At     int64  `json:"at" doc:"Since when, milliseconds since 1970."`
	UsedAt *int64 `json:"used_at,omitempty" doc:"When it last opened something, to about an hour."`
}

// MakerIn is how a maker comes in: told once.
type MakerIn struct {
	ID   string `json:"id"`
	Name string `json:"name"`
	Key  string `json:"key"`
	Link string `json:"link" doc:"Opening it in a browser brings the key there."`
}

// Kit is a kit on the shelf, as lists show it.
type Kit struct {
	ID        string   `json:"id"`
	Name      string   `json:"name"`
	Edition   int      `json:"edition" doc:"The newest edition."`
	At        int64    `json:"at" doc:"When that edition came, milliseconds since 1970."`
	About     string   `json:"about,omitempty"`
	Seats     int      `json:"seats"`
	Cards     int      `json:"cards"`
	Picture   string   `json:"picture,omitempty" doc:"The name of its picture, for /pictures/NAME/small or full."`
	Fan       []string `json:"fan,omitempty" doc:"The names of some of its cards, if it has no picture."`
	Maker     string   `json:"maker" doc:"The name of its maker."`
	Mine      bool     `json:"mine,omitempty" doc:"It is yours."`
	Reach     string   `json:"reach" enum:"private,link,listed" doc:"Who finds it: its maker, whoever has its link, everybody."`
	Rooms     int      `json:"rooms,omitempty" doc:"How many rooms you have with it."`
	RemovedAt *int64   `json:"removed_at,omitempty" doc:"When it was removed, milliseconds since 1970; it can be brought back for 30 days."`
}

// KitPage is all that its page tells of a kit.
type KitPage struct {
	Kit
	Path        string       `json:"path" doc:"Its page, from the service's address on."`
	Link        string       `json:"link" doc:"The whole link to its page."`
	OnlyHere    bool         `json:"only_here,omitempty" doc:"Only the service's own machine can open the link."`
	Description string       `json:"description,omitempty" doc:"Markdown."`
	Rules       string       `json:"rules,omitempty" doc:"Markdown."`
	RulesFile   bool         `json:"rules_file,omitempty" doc:"Its rules are a PDF, at /api/kits/ID/rules."`
	Decks       []DeckSize   `json:"decks"`
	Editions    []KitEdition `json:"editions" doc:"The newest first."`
}

// KitEdition is an edition in a kit's list.
type KitEdition struct {
	Number int    `json:"number"`
	At     int64  `json:"at" doc:"Milliseconds since 1970."`
	Note   string `json:"note,omitempty"`
}

// KitChange is what its maker says of a kit.
type KitChange struct {
	Reach string `json:"reach" enum:"private,link,listed"`
}

// KitCopy asks for a copy of a kit on one's own shelf.
type KitCopy struct {
	Name string `json:"name,omitempty" maxLength:"80" doc:"The same, or one like it that is free, if left out."`
}

// KitFile is a file of a kit by what is in it.
type KitFile struct {
	Name string `json:"name" minLength:"1" maxLength:"400" doc:"Its path in the kit's folder."`
	Hash string `json:"hash" pattern:"^[0-9a-f]{64}$" doc:"SHA-256 of its bytes, hexadecimal."`
}

// KitFiles asks to keep a kit whose files were sent one by one, or are here since earlier.
type KitFiles struct {
	Files   []KitFile `json:"files" minItems:"1" maxItems:"2000"`
	Despite bool      `json:"despite_warnings,omitempty" doc:"Keep the kit although something looks wrong."`
	Note    string    `json:"note,omitempty" maxLength:"400" doc:"What is new in it."`
	After   int       `json:"after,omitempty" minimum:"0" doc:"The edition it was made from. If another one was kept meanwhile, nothing is; left out, it comes after whichever is the newest."`
}

// Hashes are those of files.
type Hashes struct {
	Hashes []string `json:"hashes" maxItems:"2000"`
}

// KitPut is what became of an uploaded kit.
type KitPut struct {
	Kit
	Fresh    bool       `json:"fresh" doc:"False if these very files are the newest edition already."`
	Decks    []DeckSize `json:"decks"`
	Warnings []string   `json:"warnings,omitempty" doc:"What looked wrong and was kept all the same."`
}

// DeckSize says how many designs and cards a deck has.
type DeckSize struct {
	Key     string `json:"key"`
	Designs int    `json:"designs"`
	Cards   int    `json:"cards"`
}

// OpenRoom asks for a new room.
type OpenRoom struct {
	Kit        string   `json:"kit,omitempty" doc:"Id or name of a kit of yours."`
	Bookmark   string   `json:"bookmark,omitempty" doc:"In place of a kit: the id of a bookmark of yours, as which the table begins."`
	Deck       string   `json:"deck,omitempty" maxLength:"40" doc:"In place of the kit's table: one of its decks alone, shuffled, in a pile of its key, and a hand for each seat."`
	As         string   `json:"as,omitempty" maxLength:"24" doc:"Your name there, to sit down at once; the answer then has your seat."`
	Edition    int      `json:"edition,omitempty" minimum:"0" doc:"The newest if left out."`
	Name       string   `json:"name,omitempty" maxLength:"80" doc:"The kit's name if left out."`
	Seats      int      `json:"seats,omitempty" minimum:"0" maximum:"12" doc:"As many as the kit has if left out; of a deck alone 1."`
	Passcode   string   `json:"passcode,omitempty" maxLength:"64" doc:"Asked of everyone who joins."`
	Spectators *bool    `json:"spectators,omitempty" doc:"Whether people may watch without a seat; yes if left out."`
	Origins    []string `json:"origins,omitempty" maxItems:"20" maxLength:"255" doc:"Addresses of pages of others that may ask about the room, hold its socket and show its table in a frame, such as https://game.example, or * for all."`
}

// SetOrigins are the addresses of pages that may ask about a room from now on.
type SetOrigins struct {
	Origins []string `json:"origins" maxItems:"20" maxLength:"255" doc:"Such as https://game.example, or * for all; none if empty."`
}

// SetPasscode is what a room asks for from now on.
type SetPasscode struct {
	Passcode string `json:"passcode" maxLength:"64" doc:"Asked of everyone who joins; empty for none."`
}

// Bookmark is a table in use that was kept under a name.
type Bookmark struct {
	ID      string `json:"id"`
	Name    string `json:"name"`
	Kit     string `json:"kit" doc:"The id of its kit."`
	KitName string `json:"kit_name"`
	Edition int    `json:"edition"`
	Seats   int    `json:"seats"`
	At      int64  `json:"at" doc:"When it was made, milliseconds since 1970."`
}

// Bookmarks are those of a maker, the newest first.
type Bookmarks struct {
	Bookmarks []Bookmark `json:"bookmarks"`
}

// BookmarkName names a bookmark.
type BookmarkName struct {
	Name string `json:"name,omitempty" maxLength:"80" doc:"The room's name if left out."`
}

// BringDeck asks to bring a deck onto a table.
type BringDeck struct {
	Kit  string `json:"kit" minLength:"1" doc:"Id or name of a kit of yours; its newest edition is used."`
	Deck string `json:"deck" minLength:"1" doc:"The key of one of its decks."`
}

// TakeEdition asks to take another edition of its kit into a room.
type TakeEdition struct {
	Edition  int    `json:"edition,omitempty" minimum:"0" doc:"The newest if left out; also one of before, to go back."`
	NewCards string `json:"new_cards,omitempty" enum:"top,underneath,shuffled" doc:"Where new cards go at their deck's home; underneath if left out."`
}

// Room is a room as anyone with its link sees it.
type Room struct {
	ID         string       `json:"id"`
	Name       string       `json:"name"`
	Path       string       `json:"path" doc:"The page to open, from the service's address on."`
	Link       string       `json:"link" doc:"The whole link, to be sent."`
	OnlyHere   bool         `json:"only_here,omitempty" doc:"Only the service's own machine can open the link."`
	Kit        string       `json:"kit" doc:"The kit's name."`
	About      string       `json:"about,omitempty"`
	Edition    int          `json:"edition"`
	Seats      []sight.Seat `json:"seats"`
	Passcode   bool         `json:"passcode" doc:"Whether joining needs a passcode."`
	Spectators bool         `json:"spectators" doc:"Whether people may watch."`
	Locked     bool         `json:"locked" doc:"Nobody new comes in."`
	Ended      bool         `json:"ended" doc:"The game has ended."`
	Seed       string       `json:"seed,omitempty" doc:"The seed of this room's chance, 64 hexadecimal digits, once the game has ended."`
	Commitment string       `json:"commitment" doc:"SHA-256 over the text \"damselfly seed 1\" with a line feed and the seed of this room's chance, 64 hexadecimal digits."`
	At         int64        `json:"at" doc:"When it was opened, milliseconds since 1970."`
	Host       sight.Viewer `json:"host,omitempty" doc:"The seat that has the room's keys; for its maker alone."`
	Origins    []string     `json:"origins,omitempty" doc:"Addresses of pages of others that may ask about it; for its maker alone."`
	Seat       *Joined      `json:"seat,omitempty" doc:"The seat that you took in opening it."`
}

// RoomRow is a room in a maker's list.
type RoomRow struct {
	ID        string `json:"id"`
	Name      string `json:"name"`
	Path      string `json:"path"`
	Link      string `json:"link" doc:"The whole link, to be sent."`
	OnlyHere  bool   `json:"only_here,omitempty" doc:"Only the service's own machine can open the link."`
	Kit       string `json:"kit" doc:"The id of its kit."`
	KitName   string `json:"kit_name"`
	Seats     int    `json:"seats"`
	Edition   int    `json:"edition"`
	Newest    int    `json:"newest" doc:"The newest edition of its kit."`
	Passcode  bool   `json:"passcode,omitempty" doc:"Joining needs one."`
	People    int    `json:"people" doc:"Who are there now."`
	Ended     bool   `json:"ended,omitempty" doc:"The game has ended."`
	At        int64  `json:"at" doc:"When it was opened, milliseconds since 1970."`
	LastAt    int64  `json:"last_at" doc:"When something was last done there, milliseconds since 1970."`
	RemovedAt *int64 `json:"removed_at,omitempty" doc:"When it was removed, milliseconds since 1970; it can be brought back for 30 days."`
}

// Join asks for a seat, or to watch.
type Join struct {
	Name     string     `json:"name,omitempty" maxLength:"24" doc:"What the others call you, 1 to 24 letters."`
	Seat     table.Seat `json:"seat,omitempty" minimum:"0" maximum:"12" doc:"The first free seat if left out."`
	Watch    bool       `json:"watch,omitempty" doc:"Watch without a seat."`
	Passcode string     `json:"passcode,omitempty" maxLength:"64"`
	Salt     string     `json:"salt,omitempty" maxLength:"64" doc:"Anything random: your part in the room's chance."`
	ID       string     `json:"id,omitempty" minLength:"20" maxLength:"64" doc:"Your own random id for this request, which you tell nobody. Sent again with the same id it gives the same seat and key."`
}

// Joined is the key to a seat. It lasts; keep it to come back.
type Joined struct {
	Key  string     `json:"key"`
	Room string     `json:"room"`
	Seat table.Seat `json:"seat" doc:"0 if you only watch."`
	Name string     `json:"name,omitempty"`
}

// Log is the end of a room's log, or a page of it.
type Log struct {
	Lines []LogLine `json:"lines"`
	More  bool      `json:"more,omitempty" doc:"Of a page: there are lines after these."`
}

// HandOn asks to give a seat to somebody else.
type HandOn struct {
	Seat table.Seat `json:"seat,omitempty" minimum:"0" maximum:"12" doc:"The seat; your own if left out. Another's only for the host."`
	Name string     `json:"name" maxLength:"24" doc:"What the others shall call who gets it."`
}

// PicturePut is a picture that was brought to a table.
type PicturePut struct {
	Picture table.Picture `json:"picture"`
	Wide    int           `json:"wide" doc:"Pixels."`
	High    int           `json:"high"`
}

// StepsChecked is what reading Steps found: no mistake, or the first.
type StepsChecked struct {
	Mistake string `json:"mistake,omitempty"`
	Line    int    `json:"line,omitempty" doc:"From 1; 0 if it is in a cue that they run."`
	Column  int    `json:"column,omitempty"`
}

// PlaceSeen is a place as REST gives it by itself.
type PlaceSeen struct {
	sight.Place
	Faces sight.Faces `json:"faces" doc:"What its cards show, by the words that they name it by."`
}

// Status is what a keeper sees of the service.
type Status struct {
	Version  string `json:"version"`
	Database string `json:"database" doc:"The version of its server."`
	Schema   int64  `json:"schema"`
	Since    int64  `json:"since" doc:"When it was started, milliseconds since 1970."`
	Saving   bool   `json:"saving" doc:"Whether journals are being kept."`

	Makers    int `json:"makers"`
	Kits      int `json:"kits"`
	Rooms     int `json:"rooms"`
	RoomsLive int `json:"rooms_live" doc:"Rooms that are loaded."`
	People    int `json:"people" doc:"Connected people."`

	ActionsASecond float64 `json:"actions_a_second" doc:"In the last minute."`
	CommitMillis   float64 `json:"commit_millis" doc:"The mean of a commit in the last minute, 0 if there was none."`

	Entries      int64  `json:"entries" doc:"Of all journals, about."`
	JournalBytes int64  `json:"journal_bytes" doc:"About."`
	ArtBytes     int64  `json:"art_bytes" doc:"Of pictures and kits' files, about."`
	DiskFree     *int64 `json:"disk_free,omitempty" doc:"Bytes left where the service's own database lies."`
	DiskShort    bool   `json:"disk_short" doc:"Whether that is little."`
}

// UnusedRoom is a room in which nothing was done for long.
type UnusedRoom struct {
	ID     string `json:"id"`
	Name   string `json:"name"`
	Kit    string `json:"kit"`
	Maker  string `json:"maker" doc:"The id of its maker."`
	LastAt int64  `json:"last_at" doc:"When something was last done, milliseconds since 1970."`
}

// UnusedRooms are the rooms that go first.
type UnusedRooms struct {
	Rooms []UnusedRoom `json:"rooms"`
}
