package table_test

import (
	"reflect"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/core/table/tabletest"
)

// What is listed in a tag for the description of the API is what there is.
func TestTheTagsListTheKindsThatThereAre(t *testing.T) {
	words := func(kinds any) string {
		list := reflect.ValueOf(kinds)
		all := make([]string, list.Len())
		for i := range all {
			all[i] = list.Index(i).String()
		}
		return strings.Join(all, ",")
	}
	for of, want := range map[reflect.Type]string{
		reflect.TypeFor[table.Piece](): words(table.PieceKinds), reflect.TypeFor[table.LayPiece](): words(table.PieceKinds), reflect.TypeFor[table.LayZone](): words(table.ZoneKinds),
	} {
		field, has := of.FieldByName("Kind")
		require.True(t, has)
		assert.Equal(t, want, field.Tag.Get("enum"), "%s", of)
	}
}

func TestAPieceOfEveryKindIsLaidAndChangedAndTakenOff(t *testing.T) {
	for _, kind := range table.PieceKinds {
		tab := tabletest.Sample(2)
		as(t, tab, 1, table.LayPiece{Kind: kind})
		var laid table.PieceID
		for id, p := range tab.Pieces {
			if p.Kind == kind && tabletest.Sample(2).Pieces[id] == nil {
				laid = id
			}
		}
		require.NotEmpty(t, laid, kind)
		name := "the new one"
		as(t, tab, 1, table.LayPiece{Piece: laid, Name: &name})
		assert.Equal(t, name, tab.Pieces[laid].Name)
		many := make([]table.Picture, table.MaxSectors+1)
		refused := table.NotUnderstood // it has none
		if kind.Lacks([]table.PiecePart{table.PartPicture}) == "" {
			refused = table.OutOfBounds
		}
		assert.Equal(t, refused, refusedAs(t, tab, 1, table.LayPiece{Piece: laid, Faces: &many}).Code, kind)
		as(t, tab, 1, table.TakeOff{Piece: laid})
		assert.Nil(t, tab.Pieces[laid])
		assert.Nil(t, tab.Laid[laid])
	}
}

func TestWhoMayDoWhatStandsInTheRegistry(t *testing.T) {
	tab := tabletest.Sample(2)
	for _, kind := range table.ActionKinds() {
		if kind.By != table.Host && kind.By != table.Arranger {
			continue
		}
		action := reflect.Zero(kind.Type()).Interface().(table.Action)
		_, _, refusal := tab.Apply(2, action, tabletest.Seeded(chance.Seed{}, 1000))
		require.NotNil(t, refusal, kind.Word)
		assert.Equal(t, table.NotYours, refusal.Code, kind.Word)
	}
}
