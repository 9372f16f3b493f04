"""``sutaru completion``: what completes commands and their options in a shell, made from the grammar.

bash: ``sutaru completion bash > /etc/bash_completion.d/sutaru``; zsh: into a file that ``.zshrc`` reads; fish:
``~/.config/fish/completions/sutaru.fish``.
"""

import argparse
import shlex
from collections.abc import Iterator

from .grammar import parser


def write_completion(args: argparse.Namespace) -> int:
    """Writes the completion of a shell."""
    words = dict(_list_words(parser(), ()))
    print(_write_fish(words) if args.shell == "fish" else _write_bash(words, args.shell == "zsh"))
    return 0


def _list_words(
    top: argparse.ArgumentParser, path: tuple[str, ...]
) -> Iterator[tuple[tuple[str, ...], dict[str, str]]]:
    """After each command: the words that may follow, and what each is for."""
    words: dict[str, str] = {}
    for action in top._actions:
        if isinstance(action, argparse._SubParsersAction):
            helps = {choice.dest: choice.help or "" for choice in action._choices_actions}
            for name, sub in action.choices.items():
                words[name] = helps.get(name, "")
                yield from _list_words(sub, (*path, name))
        else:
            choices = [] if action.option_strings else list(action.choices or ())
            words |= dict.fromkeys([*action.option_strings[-1:], *map(str, choices)], action.help or "")
    yield path, words


def _write_bash(words: dict[tuple[str, ...], dict[str, str]], zsh: bool) -> str:
    cases = "\n".join(
        f"    {shlex.quote(' '.join(path))}) words={shlex.quote(' '.join(follow))} ;;" for path, follow in words.items()
    )
    names = " ".join(dict.fromkeys(name for path in words for name in path))
    first = "autoload -U +X bashcompinit && bashcompinit\n" if zsh else ""
    return f"""{first}_sutaru() {{
  local path="" word words=""
  for word in "${{COMP_WORDS[@]:1:COMP_CWORD-1}}"; do
    [[ " {names} " == *" $word "* ]] && path="${{path:+$path }}$word"
  done
  case "$path" in
{cases}
  esac
  COMPREPLY=($(compgen -W "$words" -- "${{COMP_WORDS[COMP_CWORD]}}"))
  [[ ${{COMP_WORDS[COMP_CWORD]}} == -* ]] || COMPREPLY+=($(compgen -f -- "${{COMP_WORDS[COMP_CWORD]}}"))
}}
complete -o filenames -F _sutaru sutaru"""


def _write_fish(words: dict[tuple[str, ...], dict[str, str]]) -> str:
    lines = []
    for path, follow in words.items():
        seen = " ; and ".join(f"__fish_seen_subcommand_from {name}" for name in path) or "__fish_use_subcommand"
        for word, what in follow.items():
            kind = (
                f"-l {word[2:]}"
                if word.startswith("--")
                else f"-o {word[1:]}"
                if word.startswith("-")
                else f"-a {word}"
            )
            lines.append(f"complete -c sutaru -n {shlex.quote(seen)} {kind} -d {shlex.quote(what)}")
    return "\n".join(lines)
