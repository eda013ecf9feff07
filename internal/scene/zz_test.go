package scene
import ("testing";"os";"bytes")
func BenchmarkReadWide(b *testing.B){ data,_:=os.ReadFile("/tmp/wide.json"); b.ReportAllocs(); for b.Loop() { if _,err:=Read(bytes.NewReader(data)); err!=nil {b.Fatal(err)} } }
