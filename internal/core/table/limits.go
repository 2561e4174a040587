package table

// Limits of a table and of what is laid on it. Kits keep to the same.
const (
	MaxSeats   = 12
	MaxZones   = 500
	MaxPieces  = 1000
	MaxCells   = 2500    // of one grid
	MinSide    = 5.0     // millimetres of a zone or piece
	MaxSide    = 20000.0 // millimetres of the table, a zone or a piece
	MinTable   = 50.0    // millimetres of the table
	MaxTurn    = 359     // degrees that something can be turned
	MaxOneTurn = 180     // degrees that one turn of a card turns it

	MaxName    = 24     // letters of a player's name
	MaxLabel   = 40     // letters of a zone's, a piece's or a face's name
	MaxTitle   = 80     // letters of the name of a table, a kit, a room or a bookmark
	MaxNote    = 4000   // bytes of a note's text, of a cue's steps, of the setup, and of what is said
	MaxSectors = 100    // faces of a die, sectors of a spinner
	MaxWeight  = 1000   // of a face
	MaxSeconds = 86_400 // of a timer
	MaxStack   = 1000   // tokens on each other

	MaxAll = 200 // actions that are done as one
)
