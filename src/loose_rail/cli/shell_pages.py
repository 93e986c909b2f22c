"""The manual page and the completion of the shell, from the parser: they can't say otherwise."""

from __future__ import annotations

import argparse
from collections.abc import Iterator

from loose_rail import __version__
from loose_rail.cli import commands_of

SECTIONS = (
    (
        "FILES",
        (
            ("$XDG_DATA_HOME/loose-rail/shop.sqlite", "your own shop; what belongs to it beside"),
            ("FILE.d/", "what belongs to a shop that was named with --data FILE"),
            ("$XDG_CONFIG_HOME/loose-rail/settings.json", "settings of your own shop"),
            ("$XDG_STATE_HOME/loose-rail/", "how the window stood, and the log of errors"),
            ("$XDG_CACHE_HOME/loose-rail/", "predictions; may be deleted at any time"),
        ),
    ),
    (
        "EXIT STATUS",
        (("0", "done"), ("1", "a fault of the program"), ("2", "one line on standard error says")),
    ),
)
CAUTION = (
    "Mains voltage and stored charge kill. Local electrical safety rules and licensed practice "
    "come first."
)


def manual(root: argparse.ArgumentParser) -> str:
    """The manual page in man(7)."""
    lines = [
        f'.TH LOOSE\\-RAIL 1 "" "Loose Rail {__version__}" "User Commands"',
        ".SH NAME",
        "loose\\-rail \\- repair the power boards of flat\\-panel sets",
        ".SH SYNOPSIS",
        ".B loose\\-rail",
        "[\\fIOPTIONS\\fR] [\\fIFILE\\fR | \\fICOMMAND\\fR ...]",
        ".SH DESCRIPTION",
        _plain(root.description or ""),
        "A FILE is a shop, which is opened, or a board, which goes into the board book.",
        ".SH OPTIONS",
        *_options(root),
        ".SH COMMANDS",
    ]
    helps = _helps(root)
    for name, command in _commands(root):
        lines += [".SS " + _plain(name), _plain(helps.get(name, "")), *_options(command)]
    for title, rows in SECTIONS:
        lines.append(f".SH {title}")
        for name, words in rows:
            lines += [".TP", f"\\fI{_plain(name)}\\fR", _plain(words)]
    return "\n".join([*lines, ".SH CAUTION", _plain(CAUTION), ""])


def bash_completion(root: argparse.ArgumentParser) -> str:
    """Completion for bash: commands, their options, files."""
    cases = []
    for name, command in _commands(root):
        cases.append(f'        {name}) words="{" ".join(_flags(command))}" ;;')
    names = " ".join(name for name, _ in _commands(root))
    table = "\n".join(cases)
    return f"""# bash completion for loose-rail, made from its parser
_loose_rail() {{
    local word="${{COMP_WORDS[COMP_CWORD]}}" command="" words="" one
    for one in "${{COMP_WORDS[@]:1:COMP_CWORD-1}}"; do
        case " {names} " in *" $one "*) command="$one"; break ;; esac
    done
    case "$command" in
        "") words="{" ".join(_flags(root))} {names}" ;;
{table}
    esac
    mapfile -t COMPREPLY < <(compgen -W "$words" -- "$word")
    [[ $word == -* ]] || mapfile -t -O "${{#COMPREPLY[@]}}" COMPREPLY < <(compgen -f -- "$word")
}}
complete -o filenames -F _loose_rail loose-rail
"""


def _commands(root: argparse.ArgumentParser) -> Iterator[tuple[str, argparse.ArgumentParser]]:
    """Each command once, by its first name."""
    seen: set[int] = set()
    for name, command in commands_of(root).items():
        if id(command) not in seen:
            seen.add(id(command))
            yield name, command


def _helps(root: argparse.ArgumentParser) -> dict[str, str]:
    actions = (one for one in root._actions if isinstance(one, argparse._SubParsersAction))
    pseudo = [one for action in actions for one in action._choices_actions]
    return {one.dest.split(" ")[0]: one.help or "" for one in pseudo}


def _flags(parser: argparse.ArgumentParser) -> list[str]:
    return [flag for action in parser._actions for flag in action.option_strings if "--" in flag]


def _options(parser: argparse.ArgumentParser) -> list[str]:
    lines = []
    for action in parser._actions:
        if isinstance(action, argparse._SubParsersAction) or action.help == argparse.SUPPRESS:
            continue
        value = action.metavar or (
            "" if action.nargs == 0 else "|".join(map(str, action.choices or ()))
        )
        shown = value if isinstance(value, str) else " ".join(value or ())
        names = ", ".join(f"\\fB{_plain(flag)}\\fR" for flag in action.option_strings)
        tag = f"{names} \\fI{_plain(shown)}\\fR" if shown else names
        lines += [".TP", tag.strip(), _plain(action.help or "")]
    return lines


def _plain(text: str) -> str:
    """Words in man(7): no sign of it that is meant as text."""
    shown = text.replace("\\", "\\e").replace("-", "\\-").replace("%%", "%")
    return f"\\&{shown}" if shown.startswith((".", "'")) else shown
