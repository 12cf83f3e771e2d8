"""Counts the pictures of documents with readers that are not Detto's, and finds words in them.

Usage: python3 count.py < PATHS, one a line; prints a JSON object a line: path, pictures, words (all alternative texts).
DOCX by python-docx's package reader and lxml, PPTX and XLSX by zipfile and lxml, ODF by odfpy, else lxml, EPUB by zipfile
and lxml.
"""

import json
import sys
import zipfile

from lxml import etree

PIC = "{http://schemas.openxmlformats.org/drawingml/2006/picture}pic"
MC = "{http://schemas.openxmlformats.org/markup-compatibility/2006}"
VML = "{urn:schemas-microsoft-com:vml}"
PARSER = etree.XMLParser(resolve_entities=False, no_network=True, load_dtd=False, huge_tree=True, recover=False)


def in_fallback(e):
    return any(a.tag == MC + "Fallback" for a in e.iterancestors())


def words_of(root):
    out = []
    for e in root.iter():
        if not isinstance(e.tag, str):
            continue
        name = etree.QName(e).localname
        if name in ("docPr", "cNvPr"):
            out += [e.get("descr")]
        elif e.tag.startswith(VML):
            out += [e.get("alt")]
    return [w for w in out if w]


def pictures_of(root, tag_ends):
    found = 0
    for e in root.iter():
        if not isinstance(e.tag, str) or in_fallback(e):
            continue
        name = etree.QName(e).localname
        if name in tag_ends:
            found += 1
        elif name == "blipFill" and etree.QName(e.getparent()).localname == "spPr":
            # A shape that is filled with a picture; `pic` has its own elsewhere.
            found += etree.QName(e.getparent().getparent()).localname in ("sp", "wsp")
        elif name == "imagedata" and e.tag.startswith(VML) and not any(
            etree.QName(a).localname == "numPicBullet" for a in e.iterancestors()
        ):
            found += 1
    return found


def docx(path):
    import docx as reader

    document = reader.Document(path)
    main = document.part
    parts = [main] + [
        r.target_part
        for r in main.rels.values()
        if not r.is_external and r.reltype.rsplit("/", 1)[-1] in ("header", "footer", "footnotes", "endnotes", "comments")
    ]
    pictures, words = 0, []
    for part in parts:
        root = etree.fromstring(part.blob, PARSER)
        pictures += pictures_of(root, ("pic",))
        words += words_of(root)
    return pictures, words


def zipped(path, wanted, tag_ends):
    pictures, words = 0, []
    with zipfile.ZipFile(path) as z:
        for name in z.namelist():
            if not wanted(name):
                continue
            root = etree.fromstring(z.read(name), PARSER)
            pictures += pictures_of(root, tag_ends)
            words += words_of(root)
    return pictures, words


def pptx(path):
    kinds = ("ppt/slides/", "ppt/slideLayouts/", "ppt/slideMasters/", "ppt/notesSlides/")
    return zipped(path, lambda n: n.endswith(".xml") and n.startswith(kinds), ("pic",))


def xlsx(path):
    return zipped(path, lambda n: n.endswith(".xml") and n.startswith("xl/drawings/drawing"), ("pic",))


def odf(path):
    from odf.opendocument import load
    from odf import draw

    try:
        document = load(path)
    except Exception:  # noqa: BLE001 - it is strict about lengths and manifests
        return odf_by_lxml(path)
    pictures, words = 0, []
    for frame in document.getElementsByType(draw.Frame):
        kinds = {c.qname[1] for c in frame.childNodes if hasattr(c, "qname")}
        if "image" in kinds and not kinds & {"object", "object-ole", "plugin"}:
            pictures += 1
    from odf import svg

    for desc in document.getElementsByType(svg.Desc):
        words.append("".join(c.data for c in desc.childNodes if c.nodeType == 3))
    return pictures, words


def odf_by_lxml(path):
    pictures, words = 0, []
    with zipfile.ZipFile(path) as z:
        for name in ("content.xml", "styles.xml"):
            root = etree.fromstring(z.read(name), PARSER)
            for frame in root.iter("{urn:oasis:names:tc:opendocument:xmlns:drawing:1.0}frame"):
                kinds = {etree.QName(c).localname for c in frame if isinstance(c.tag, str)}
                pictures += "image" in kinds and not kinds & {"object", "object-ole", "plugin"}
            for desc in root.iter("{urn:oasis:names:tc:opendocument:xmlns:svg-compatible:1.0}desc"):
                words.append("".join(desc.itertext()))
    return pictures, words


def epub(path):
    pictures, words = 0, []
    with zipfile.ZipFile(path) as z:
        container = etree.fromstring(z.read("META-INF/container.xml"), PARSER)
        opf = container.find(".//{*}rootfile").get("full-path")
        package = etree.fromstring(z.read(opf), PARSER)
        folder = opf.rsplit("/", 1)[0] + "/" if "/" in opf else ""
        for item in package.findall(".//{*}manifest/{*}item"):
            if item.get("media-type") != "application/xhtml+xml":
                continue
            import posixpath
            from urllib.parse import unquote

            name = posixpath.normpath(folder + unquote(item.get("href")))
            if name not in z.namelist():
                continue
            try:
                root = etree.fromstring(z.read(name), etree.XMLParser(load_dtd=False, no_network=True, recover=True))
            except etree.XMLSyntaxError:
                continue
            for e in root.iter():
                if not isinstance(e.tag, str):
                    continue
                local = etree.QName(e).localname
                if local == "img" or (local == "svg" and not any(etree.QName(a).localname == "svg" for a in e.iterancestors())):
                    pictures += 1
                    if e.get("alt"):
                        words.append(e.get("alt"))
                    if e.get("aria-label"):
                        words.append(e.get("aria-label"))
                if local == "title" and e.getparent() is not None and etree.QName(e.getparent()).localname == "svg":
                    words.append("".join(e.itertext()))
    return pictures, words


READERS = {
    **dict.fromkeys(("docx", "docm"), docx),
    **dict.fromkeys(("pptx", "pptm", "ppsx", "ppsm", "potx", "potm"), pptx),
    **dict.fromkeys(("xlsx", "xlsm", "xltx", "xltm"), xlsx),
    "epub": epub,
}
for line in sys.stdin:
    path = line.rstrip("\n")
    reader = READERS.get(path.rsplit(".", 1)[-1].lower(), odf)
    try:
        pictures, words = reader(path)
        print(json.dumps({"path": path, "pictures": pictures, "words": words}), flush=True)
    except Exception as error:  # noqa: BLE001 - what the other reader cannot read is told
        print(json.dumps({"path": path, "error": f"{type(error).__name__}: {error}"[:200]}), flush=True)
