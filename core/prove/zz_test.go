package prove
import ("testing";"fmt")
func TestZZ(t *testing.T) {
	for _, seed := range []uint64{498} {
		d := sideBySide(t, seed)
		fmt.Println(sourceOf(d))
		for _, o := range []Options{{Asks:2},{Asks:2,slice:true}} {
		rep := Run(d, o)
		for _, l := range rep.Laws { fmt.Println(l.Name(), l.Verdict, l.Why, l.States) }
		fmt.Printf("%+v %v\n", rep.Starts[0], rep.Cuts)
		}
	}
}
