//! Comments that are not one mark a line: among the children of tags, in embedded code, in recipes of a makefile; and reflowing.

use crate::support::check_parsed as check;

const TOGGLE: &str = "comment-toggle";
const TWICE: &str = "comment-toggle comment-toggle";
const BLOCK: &str = "block-comment-toggle";

#[test]
fn children_of_tags_are_wrapped_once() {
    let page = "const a = (⏎  <p>⏎";
    let rows = |name, inner: &str, verbs, after: &str| {
        (name, format!("{page}{inner}  </p>⏎);⏎"), verbs, format!("{page}{after}  </p>⏎);⏎"))
    };
    let rows = [
        rows("a_run", "[    <b/>⏎    <i/>⏎|]", TOGGLE, "[    {/* <b/>⏎    <i/> */}⏎|]"),
        rows("and_back", "[    <b/>⏎    <i/>⏎|]", TWICE, "[    <b/>⏎    <i/>⏎|]"),
        rows("whole_elements", "    |<b>⏎      x⏎    </b>⏎", TOGGLE, "    {/* |<b>⏎      x⏎    </b> */}⏎"),
        rows(
            "from_inside_and_back",
            "    <b>⏎      |x⏎    </b>⏎",
            "comment-toggle comment-toggle",
            "    <b>⏎      |x⏎    </b>⏎",
        ),
        rows("blank_lines_at_its_ends", "[⏎    <b/>⏎⏎|]", TOGGLE, "[⏎    {/* <b/> */}⏎⏎|]"),
        rows("a_comment_in_it", "    {/* y */}⏎[    <b/>{/* z */}|]⏎", TWICE, "    {/* y */}⏎[    <b/>{/* z */}|]⏎"),
        rows("a_block", "    [<b>x</b>|]⏎", BLOCK, "    {/* [<b>x</b>|] */}⏎"),
        rows("a_block_and_back", "    [<b>x</b>|]⏎", "block-comment-toggle block-comment-toggle", "    [<b>x</b>|]⏎"),
        rows("off_from_its_middle", "    {/* <b/>⏎    |<i/>⏎    <u/> */}⏎", TOGGLE, "    <b/>⏎    |<i/>⏎    <u/>⏎"),
    ];
    for language in ["jsx", "tsx"] {
        let rows: Vec<(&str, &str, &str, &str)> =
            rows.iter().map(|(name, before, verbs, after)| (*name, before.as_str(), *verbs, after.as_str())).collect();
        check(language, &rows);
        check(
            language,
            &[
                ("attribute", "const a = <p⏎  b=\"1|\"⏎  c⏎/>;⏎", TOGGLE, "const a = <p⏎  // b=\"1|\"⏎  c⏎/>;⏎"),
                (
                    "attribute_at_the_tag_s_end",
                    "const a = <p⏎  b=\"1|\">⏎</p>;⏎",
                    TOGGLE,
                    "const a = <p⏎  /* b=\"1|\" */>⏎</p>;⏎",
                ),
                ("and_back", "const a = <p⏎  b=\"1|\" />;⏎", TWICE, "const a = <p⏎  b=\"1|\" />;⏎"),
                ("part_of_a_tag", "const a = <p [b=\"1\"|] c />;⏎", BLOCK, "const a = <p /* [b=\"1\"|] */ c />;⏎"),
                (
                    "the_root_is_code",
                    "[a = (⏎  <p>⏎    x⏎  </p>⏎);⏎|]",
                    TOGGLE,
                    "// [a = (⏎//   <p>⏎//     x⏎//   </p>⏎// );⏎|]",
                ),
            ],
        );
    }
}

#[test]
fn embedded_code_is_switched_off_in_its_own_way() {
    for language in ["erb", "ejs"] {
        check(
            language,
            &[
                ("a_value", "<%= x| %>⏎", TOGGLE, "<%#= x| %>⏎"),
                ("code", "  <% x| %>⏎", TOGGLE, "  <%# x| %>⏎"),
                ("off", "<%#= x| %>⏎", TOGGLE, "<%= x| %>⏎"),
                ("markup", "<p>|⏎", TOGGLE, "<!-- <p>| -->⏎"),
                ("part_by_part", "<b>|<%= x %></b>⏎", TOGGLE, "<!-- <b> -->|<%#= x %><!-- </b> -->⏎"),
                ("and_back", "[<b><%= x %> y</b>⏎<% z %>⏎|]", TWICE, "[<b><%= x %> y</b>⏎<% z %>⏎|]"),
                ("mixed_goes_on_once_more", "[<%# a %>⏎<% b %>⏎|]", TOGGLE, "[<%## a %>⏎<%# b %>⏎|]"),
                ("with_a_comment_and_back", "[<!-- a --><%# b %>c⏎|]", TWICE, "[<!-- a --><%# b %>c⏎|]"),
                ("a_script_is_itself", "<script>⏎a|;⏎</script>⏎", TOGGLE, "<script>⏎// a|;⏎</script>⏎"),
            ],
        );
    }
    check("erb", &[("inside_a_tag_over_lines", "<%⏎  a|⏎%>⏎", TOGGLE, "<%⏎  # a|⏎%>⏎")]);
}

#[test]
fn a_command_of_a_makefile_has_its_mark_first() {
    check(
        "make",
        &[
            ("recipe", "all:⏎→echo| a⏎", TOGGLE, "all:⏎# →echo| a⏎"),
            ("and_back", "all:⏎→echo| a⏎", TWICE, "all:⏎→echo| a⏎"),
            ("with_its_rule", "[all: x⏎→echo a⏎|]", TOGGLE, "# [all: x⏎# →echo a⏎|]"),
            ("no_command", "  a| = b⏎", TOGGLE, "  # a| = b⏎"),
        ],
    );
}

#[test]
fn blank_lines_at_the_ends_stay_outside_of_the_marks() {
    check(
        "c",
        &[
            ("at_both_ends", "[⏎a;⏎b;⏎⏎|]c;⏎", BLOCK, "[⏎/* a;⏎b; */⏎⏎|]c;⏎"),
            ("and_back", "[⏎a;⏎b;⏎⏎|]c;⏎", "block-comment-toggle block-comment-toggle", "[⏎a;⏎b;⏎⏎|]c;⏎"),
            ("from_inside_a_line", "f([a,⏎⏎|]b);⏎", BLOCK, "f(/* [a, */⏎⏎|]b);⏎"),
            ("up_to_inside_a_line", "f(a,[⏎  ⏎  b|]);⏎", BLOCK, "f(a,[⏎  ⏎  /* b|] */);⏎"),
        ],
    );
}

const LONG: &str = "One two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen.";

#[test]
fn what_has_a_form_of_its_own_is_not_reflowed() {
    let rows = |language: &str, rows: &[(&str, &str, &str)]| {
        let rows: Vec<(&str, String, String)> = rows
            .iter()
            .map(|(name, before, after)| (*name, before.replace('§', LONG), after.replace('§', LONG)))
            .collect();
        let rows: Vec<(&str, &str, &str, &str)> =
            rows.iter().map(|(name, before, after)| (*name, before.as_str(), "reflow", after.as_str())).collect();
        check(language, &rows);
    };
    let first = "One two three four five six seven eight nine ten eleven twelve thirteen";
    rows(
        "javascript",
        &[
            (
                "text_before_a_tag",
                "/**⏎ * §|⏎ * @param a⏎ */",
                &format!("/**⏎ * {first}⏎ * fourteen fifteen.|⏎ * @param a⏎ */"),
            ),
            (
                "a_tag_wraps_under_its_text",
                "/**⏎ * A.⏎ * @param a| §⏎ */",
                "/**⏎ * A.⏎ * @param a| One two three four five six seven eight nine ten eleven twelve⏎ *        thirteen fourteen fifteen.⏎ */",
            ),
            ("a_fence", "/**⏎ * ```⏎ * §|⏎ * ```⏎ */", "/**⏎ * ```⏎ * §|⏎ * ```⏎ */"),
            (
                "a_table",
                "/**⏎ * | §|⏎ */".replace("| §|", "¦ §|").as_str(),
                "/**⏎ * ¦ One two three four five six seven eight nine ten eleven twelve thirteen⏎ * fourteen fifteen.|⏎ */",
            ),
        ],
    );
    rows(
        "rust",
        &[
            ("a_heading", "/// # Errors⏎/// §|", &format!("/// # Errors⏎/// {first}⏎/// fourteen fifteen.|")),
            ("indented_code", "/// A.⏎///⏎///     §|", "/// A.⏎///⏎///     §|"),
        ],
    );
    rows(
        "python",
        &[
            (
                "a_documentation_string",
                "def f():⏎    \"\"\"A.⏎⏎    §|⏎    :param a: b⏎    \"\"\"⏎",
                "def f():⏎    \"\"\"A.⏎⏎    One two three four five six seven eight nine ten eleven twelve thirteen⏎    fourteen fifteen.|⏎    :param a: b⏎    \"\"\"⏎",
            ),
            ("a_string_that_is_a_value", "x = \"\"\"A.⏎§|⏎\"\"\"⏎", "x = \"\"\"A.⏎§|⏎\"\"\"⏎"),
        ],
    );
    rows(
        "markdown",
        &[
            ("a_hard_break_is_kept", "§|  ⏎next⏎", &format!("{first} fourteen⏎fifteen.|  ⏎next⏎")),
            ("a_fence_of_markdown", "```⏎§|⏎```⏎", "```⏎§|⏎```⏎"),
        ],
    );
}

#[test]
fn white_space_that_says_something_is_not_trimmed() {
    check(
        "python",
        &[("strings", "[x = 1  ⏎y = '''a  ⏎  ⏎b'''  ⏎|]", "trim-trailing", "[x = 1⏎y = '''a  ⏎  ⏎b'''⏎|]")],
    );
    check("shell", &[("here_documents", "[cat <<E  ⏎a  ⏎E⏎x  ⏎|]", "trim-trailing", "[cat <<E⏎a  ⏎E⏎x⏎|]")]);
    check(
        "markdown",
        &[
            ("line_breaks", "[a  ⏎b   ⏎c ⏎   ⏎|]", "trim-trailing", "[a  ⏎b  ⏎c⏎⏎|]"),
            ("a_fence_by_its_language", "[```py⏎x  ⏎```  ⏎|]", "trim-trailing", "[```py⏎x⏎```⏎|]"),
        ],
    );
}
