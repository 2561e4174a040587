package main
import ("testing";"os";"fmt";"bytes";"image";"image/png";"image/draw")
func TestZZ(t *testing.T){
 os.MkdirAll("/tmp/thirty",0o755)
 p,_:=png.Decode(bytes.NewReader(largeSheet()))
 text:="kit: 1\nname: Thirty\nseats: 2\nsheets:\n"; decks:="decks:\n"
 for n:=range 30 {
  on:=image.NewNRGBA(image.Rect(0,0,4096,4096)); draw.Draw(on,on.Rect,p,image.Point{},draw.Src)
  for i:=n; i<len(on.Pix); i+=4*(n+7) { on.Pix[i]^=uint8(n*9+1) ; on.Pix[i|3]=255}
  f,_:=os.Create(fmt.Sprintf("/tmp/thirty/s%d.png",n)); (&png.Encoder{CompressionLevel:png.BestSpeed}).Encode(f,on); f.Close()
  text+=fmt.Sprintf("  s%d: {file: s%d.png, columns: 8, rows: 8}\n",n,n); decks+=fmt.Sprintf("  s%d: {sheet: s%d}\n",n,n)
 }
 os.WriteFile("/tmp/thirty/kit.yaml",[]byte(text+decks),0o644)
}
