"""The manual page, the shell's completion and the handbook's page of commands, all made from the parser: nothing is told twice."""

from __future__ import annotations

import argparse
from collections.abc import Iterator

from isometron import __version__
from isometron.wording import tr

__all__ = ["MANUALS", "bash_completion", "command_page", "manual_page"]


def _commands(parser: argparse.ArgumentParser) -> dict[str, tuple[argparse.ArgumentParser, str]]:
    """Return the parser of each command, with what the command does."""
    found = next(a for a in parser._actions if isinstance(a, argparse._SubParsersAction))
    words = {each.dest: each.help or "" for each in found._choices_actions}
    return {name: (own, words.get(name, "")) for name, own in found.choices.items()}


def _arguments(parser: argparse.ArgumentParser) -> Iterator[tuple[str, str]]:
    """Yield each argument as it is typed, with what it means."""
    for action in parser._actions:
        if isinstance(action, argparse._HelpAction | argparse._SubParsersAction):
            continue
        value = action.metavar or ("|".join(action.choices) if action.choices else action.dest.upper())
        if action.option_strings:
            yield action.option_strings[-1] + ("" if action.nargs == 0 else f" {value}"), action.help or ""
        else:
            name = str(action.metavar or action.dest).upper()
            yield f"[{name}]" if action.nargs == "?" else name, action.help or ""


def _usage(name: str, parser: argparse.ArgumentParser) -> str:
    return " ".join(["isometron", name, *(typed for typed, _ in _arguments(parser) if not typed.startswith("-"))])


def _roff(text: str) -> str:
    return text.replace("\\", "\\\\").replace("-", "\\-").replace("\n.", "\n\\&.")


def manual_page(parser: argparse.ArgumentParser) -> str:
    """Return the manual page (section 1) as roff, see man(7)."""
    lines = [
        f'.TH ISOMETRON 1 "" "Isometron {__version__}" "{tr("User commands")}"',
        f".SH {tr('NAME')}",
        _roff("isometron") + f" \\- {_roff(tr('frameworks in true perspective'))}",
        f".SH {tr('SYNOPSIS')}",
        ".B isometron\n[\\fIFILE\\fR]\n.br\n.B isometron\n\\fICOMMAND\\fR [\\fIARGUMENTS\\fR]",
        f".SH {tr('DESCRIPTION')}",
        _roff(parser.description or ""),
        f".SH {tr('COMMANDS')}",
    ]
    for name, (own, words) in _commands(parser).items():
        lines += [f".SS {_roff(_usage(name, own))}", _roff(f"{words[:1].upper()}{words[1:]}.")]
        for typed, meaning in _arguments(own):
            lines += [".TP", f".B {_roff(typed)}", _roff(meaning)]
    lines += [f".SH {tr('NOTES')}", _roff(parser.epilog or ""), ""]
    return "\n".join(lines)


def command_page(parser: argparse.ArgumentParser) -> str:
    """Return the commands as Markdown, for the handbook."""
    lines = [f"# {tr('Without a window')}", "", parser.description or "", ""]
    for name, (own, words) in _commands(parser).items():
        lines += [f"## {_usage(name, own)}", "", f"{words[:1].upper()}{words[1:]}.", ""]
        lines += [f"* `{typed}`: {meaning}" for typed, meaning in _arguments(own)]
        lines.append("")
    return "\n".join([*lines, parser.epilog or "", ""])


def bash_completion(parser: argparse.ArgumentParser) -> str:
    """Return a completion for bash: commands first, then the options and choices of the one that was typed, and files."""
    cases, choices = [], []
    commands = _commands(parser)
    for name, (own, _) in commands.items():
        options = [option for action in own._actions for option in action.option_strings if option.startswith("--")]
        cases.append(f'        {name}) words="{" ".join(options)}" ;;')
        for action in own._actions:
            if action.choices and action.option_strings:
                choices.append(f'        {name}:{action.option_strings[-1]}) words="{" ".join(action.choices)}" ;;')
    return f"""# Completion of isometron for bash; made from the program's own parser.
_isometron() {{
    local now="${{COMP_WORDS[COMP_CWORD]}}" before="${{COMP_WORDS[COMP_CWORD-1]}}" words=""
    if [ "$COMP_CWORD" = 1 ]; then
        COMPREPLY=($(compgen -W "{" ".join(commands)}" -- "$now") $(compgen -f -- "$now"))
        return
    fi
    case "${{COMP_WORDS[1]}}:$before" in
{chr(10).join(choices)}
    esac
    if [ -n "$words" ]; then
        COMPREPLY=($(compgen -W "$words" -- "$now"))
        return
    fi
    case "${{COMP_WORDS[1]}}" in
{chr(10).join(cases)}
    esac
    case "$now" in
        -*) COMPREPLY=($(compgen -W "$words" -- "$now")) ;;
        *) COMPREPLY=($(compgen -f -- "$now")) ;;
    esac
}}
complete -o filenames -F _isometron isometron
"""


MANUALS = {"man": manual_page, "bash": bash_completion, "handbook": command_page}
"""What is made from the parser, by name."""
