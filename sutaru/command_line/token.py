"""``sutaru token``: tokens by which scripts come in where a passphrase is asked for."""

import argparse
import json
from dataclasses import asdict

from ..settings import DATABASE, find_data
from ..store.tokens import open_tokens


def add(args: argparse.Namespace) -> int:
    """Makes a token and shows it, this once."""
    with open_tokens(find_data(args.data) / DATABASE) as tokens:
        token = tokens.add(args.name)
    print(json.dumps({"name": args.name, "token": token}) if args.json else token)
    return 0


def list_all(args: argparse.Namespace) -> int:
    """Lists tokens by their names."""
    with open_tokens(find_data(args.data) / DATABASE) as tokens:
        listed = tokens.list_all()
    if args.json:
        print(json.dumps([asdict(token) for token in listed], indent=1))
    for token in [] if args.json else listed:
        print(f"{token.name}: made {token.created[:10]}, {f'used last {token.used}' if token.used else 'never used'}")
    return 0


def remove(args: argparse.Namespace) -> int:
    """Removes a token."""
    with open_tokens(find_data(args.data) / DATABASE) as tokens:
        tokens.remove(args.name)
    print(json.dumps({"removed": args.name}) if args.json else f"{args.name}: removed")
    return 0
