// Clipboard and drags of the browser's own: what they bring goes to the list, what the list gives goes to them.

// What the list is told, and what it gives and takes.
const copy = 0, cut = 1, paste = 2, hover = 3, drop = 4, leave = 5, dragOut = 6;
const copies = 1, cuts = 2, takes = 4, dragsOut = 8, pulls = 16;
// Parts of a row that a mouse drags for something else; the handle orders, and the body goes anywhere.
const ownDrags = '[data-part="check"], [data-part="handle"], [data-part="menu"], [data-part^="mark"]';

// Files that came, until they are read; of very many the last ones.
const files = new Map(), mostFiles = 1000;
let lastFile = 0;

/** A file that came, by its number. */
export const openFile = number => files.get(number) ?? Promise.reject(new Error('The file is not there any more.'));

function keep(file) {
    files.set(++lastFile, file);
    if (files.size > mostFiles) files.delete(files.keys().next().value);
    return lastFile;
}

const clean = text => text.replaceAll('\0', '');
const pack = (x, y, time, texts = [], all = []) =>
    [x, y, time, texts.length, ...texts.flat(), ...all.flatMap(f => [f.number, clean(f.name), f.type, f.size])].join('\0');

// A drag that is not dropped yet tells its types alone.
function packData(data, x, y, time) {
    const texts = [...data.types].filter(type => type.includes('/')).map(type => [type, clean(data.getData(type))]);
    return pack(x, y, time, texts,
        [...data.files].map(file => ({ number: keep(file), name: file.name, type: file.type, size: file.size })));
}

function unpack(packed) {
    const parts = packed.split('\0'), texts = [];
    for (let i = 0; i + 1 < parts.length; i += 2) texts.push([parts[i], parts[i + 1]]);
    return texts;
}

/**
 * @param {object} of the list's elements, what it is told, and how its pointer goes on
 */
export function attachTransfers({ root, element, viewport, list, listen, answersAtOnce, isList, origin, holds, letGo, sample }) {
    let use = 0, event = null, dragging = null, dragged = '', draggable = null, hovers = false, may = false;
    // Answers that come later are too late for an event: it is kept from the browser beforehand.
    const ask = (kind, packed) => {
        const answer = list.transfer(kind, packed);
        return answersAtOnce ? answer : (answer.then?.(a => { if (kind === hover) may = a === '1'; }), '1');
    };
    const placeOf = e => { const box = origin(); return [e.clientX - box.left, e.clientY - box.top]; };
    const isHere = () => document.activeElement === element;

    listen(document, 'copy cut', e => {
        if (!isHere() || !(use & (e.type === 'copy' ? copies : cuts))) return;
        event = e;
        list.transfer(e.type === 'copy' ? copy : cut, '');
        event = null;
        if (!answersAtOnce) e.preventDefault();
    });
    listen(document, 'paste', e => {
        if (!isHere() || !(use & takes)) return;
        if (ask(paste, packData(e.clipboardData, 0, 0, e.timeStamp)) === '1') e.preventDefault();
    });

    // ── Out ──
    listen(root, 'pointerdown', e => {
        // Of the press before nothing is left, wherever that pointer went up.
        if (draggable) draggable.draggable = false;
        dragging = draggable = null;
        if (e.pointerType !== 'mouse' || e.button !== 0 || !(use & dragsOut) || !isList(e.target) || e.target.closest(ownDrags)) return;
        draggable = e.target.closest('.lectica-row');
        if (!draggable) return;
        draggable.draggable = true;
        const [x, y] = placeOf(e);
        dragging = { id: e.pointerId, pointer: { pointerId: e.pointerId, pointerType: 'mouse' }, x, y, begun: false };
        dragged = '';
        if (!answersAtOnce) list.transfer(dragOut, pack(x, y, e.timeStamp)).then(packed => { dragged = packed; });
    }, { capture: true });
    listen(root, 'dragstart', e => {
        if (!isList(e.target)) return;
        if (answersAtOnce && dragging) dragged = list.transfer(dragOut, pack(dragging.x, dragging.y, e.timeStamp));
        if (!dragging || !dragged) {
            e.preventDefault();
            return;
        }
        for (const [type, text] of unpack(dragged)) e.dataTransfer.setData(type, text);
        e.dataTransfer.effectAllowed = 'copyMove';
        dragging.begun = true;
        letGo(dragging.id);
        // The system draws what it drags.
        requestAnimationFrame(() => root.classList.add('is-dragged-out'));
        sample('pointermove', dragging.pointer, ...placeOf(e));
    });
    const isOwn = () => dragging?.begun;
    const endDrag = (kind, e) => {
        if (!isOwn()) return;
        sample(kind, dragging.pointer, ...placeOf(e));
        dragging = null;
        root.classList.remove('is-dragged-out');
    };
    // It was dropped elsewhere, or not at all.
    listen(root, 'dragend', e => endDrag('pointercancel', e));

    // ── In ──
    listen(root, 'dragenter dragover', e => {
        if (!viewport.contains(e.target)) return;
        const [x, y] = placeOf(e);
        if (isOwn()) {
            if (e.type === 'dragover') sample('pointermove', dragging.pointer, x, y);
            if (!holds()) return;
            e.dataTransfer.dropEffect = 'move';
            e.preventDefault();
            return;
        }
        if (!(use & takes)) return;
        hovers = true;
        const types = [...e.dataTransfer.types], texts = types.filter(type => type.includes('/')).map(type => [type, '']);
        const answer = ask(hover, pack(x, y, e.timeStamp, texts,
            types.includes('Files') ? [{ number: 0, name: '', type: '', size: 0 }] : []));
        if (answersAtOnce ? answer !== '1' : !may) return;
        e.dataTransfer.dropEffect = 'copy';
        e.preventDefault();
    });
    const end = () => {
        if (hovers) list.transfer(leave, '');
        hovers = may = false;
    };
    listen(root, 'dragleave', e => { if (!viewport.contains(e.relatedTarget)) end(); });
    listen(root, 'drop', e => {
        if (!viewport.contains(e.target)) return;
        if (isOwn()) {
            e.preventDefault();
            endDrag(holds() ? 'pointerup' : 'pointercancel', e);
            return;
        }
        if (!(use & takes)) return;
        const [x, y] = placeOf(e);
        hovers = may = false;
        // It was allowed here: the page is never left for a file.
        e.preventDefault();
        list.transfer(drop, packData(e.dataTransfer, x, y, e.timeStamp));
    });

    return {
        expectUse: now => { use = now; },
        pulls: () => use & pulls,
        putClipboard: packed => {
            const texts = unpack(packed);
            if (event) {
                for (const [type, text] of texts) event.clipboardData.setData(type, text);
                event.preventDefault();
                return;
            }
            const plain = texts.find(([type]) => type === 'text/plain')?.[1] ?? '';
            // A page that is not secure has no clipboard but in such an event.
            if (!navigator.clipboard) return;
            if (!window.ClipboardItem) {
                navigator.clipboard.writeText(plain).catch(() => { });
                return;
            }
            // Outside such an event only some media types are everybody's; others are the web's own.
            const known = type => ['text/plain', 'text/html'].includes(type) ? type : `web ${type}`;
            const items = texts.map(([type, text]) => [known(type), new Blob([text], { type })])
                .filter(([type]) => !ClipboardItem.supports || ClipboardItem.supports(type));
            navigator.clipboard.write([new ClipboardItem(Object.fromEntries(items))])
                .catch(() => navigator.clipboard.writeText(plain).catch(() => { }));
        },
        askClipboard: async () => {
            const texts = [];
            try {
                for (const item of await navigator.clipboard.read())
                    for (const type of item.types.filter(t => /^(web )?(text|application)\//.test(t)))
                        texts.push([type.replace(/^web /, ''), clean(await (await item.getType(type)).text())]);
            } catch {
                // Not allowed by who uses it: then there is nothing, and the list says so.
            }
            list.transfer(paste, pack(0, 0, performance.now(), texts));
        },
    };
}
