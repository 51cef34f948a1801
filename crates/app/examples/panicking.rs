//! A terminal session that panics: for the test that the terminal is put back all the same.

fn main() {
    let _session = snarvel_ui::terminal::Session::start().expect("a terminal");
    panic!("the panic of the example");
}
