// Records what pointers and keys do on a list, as `lectica why` reads it: the events' own fields, in px from the list's edges.

const pointers = ['pointerdown', 'pointermove', 'pointerup', 'pointercancel'];
let stop = null, lines = [];

export function start(id) {
    const list = document.getElementById(id), down = new Set();
    stop = new AbortController();
    lines = [];
    const options = { signal: stop.signal, capture: true, passive: true };
    const modifiers = e => ({
        ...(e.ctrlKey && { ctrlKey: true }), ...(e.shiftKey && { shiftKey: true }),
        ...(e.altKey && { altKey: true }), ...(e.metaKey && { metaKey: true }),
    });
    for (const type of pointers)
        window.addEventListener(type, e => {
            if (type === 'pointerdown' && list.contains(e.target)) down.add(e.pointerId);
            if (!down.has(e.pointerId)) return;
            if (type === 'pointerup' || type === 'pointercancel') down.delete(e.pointerId);
            const box = list.getBoundingClientRect();
            const at = type === 'pointercancel' ? {} : { clientX: e.clientX - box.left, clientY: e.clientY - box.top };
            lines.push({ type, timeStamp: e.timeStamp, pointerId: e.pointerId, pointerType: e.pointerType, isPrimary: e.isPrimary,
                ...at, button: e.button, buttons: e.buttons, pressure: e.pressure, ...modifiers(e) });
        }, options);
    list.addEventListener('keydown', e => lines.push({ type: 'keydown', timeStamp: e.timeStamp, key: e.key,
        ...(e.repeat && { repeat: true }), ...modifiers(e) }), options);
    list.addEventListener('scroll', e => lines.push({ type: 'scroll', timeStamp: e.timeStamp, scrollTop: list.scrollTop }), options);
}

/** Ends the recording and saves it; gives how many events it has. */
export function save(name) {
    stop?.abort();
    stop = null;
    saveText(name, lines.map(line => JSON.stringify(line) + '\n').join(''));
    return lines.length;
}

export function saveText(name, text) {
    const link = document.createElement('a');
    link.href = URL.createObjectURL(new Blob([text], { type: 'application/json' }));
    link.download = name;
    link.click();
    setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}
