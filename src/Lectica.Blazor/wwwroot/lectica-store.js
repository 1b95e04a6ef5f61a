// What a list remembers, in the browser's stores for text.

/** Tells a list that runs in the page when that is hidden or left: a phone's browser may end a hidden page without a word. */
export function watch(list) {
    const tell = () => list.invokeMethod('Leave');
    addEventListener('pagehide', tell);
    document.addEventListener('visibilitychange', tell);
    return {
        end() {
            removeEventListener('pagehide', tell);
            document.removeEventListener('visibilitychange', tell);
        },
    };
}

/** The text that is kept, as bytes for a list that is elsewhere; null where there is none. */
export function read(area, key) {
    const text = window[area].getItem(key);
    return text === null ? null : new TextEncoder().encode(text);
}

export async function write(area, key, stream) {
    window[area].setItem(key, new TextDecoder().decode(await stream.arrayBuffer()));
}

// For a list that runs in the page. It answers at once, so that a list can be as it was before it is first drawn; a long text stays here,
// and goes piece by piece.
(globalThis.lectica ??= {}).store = {
    open(area, key) {
        const text = window[area].getItem(key);
        return text === null ? null : { text, length: text.length };
    },
    piece: ({ text }, from, to) => text.slice(from, to),
    begin: () => ({ pieces: [] }),
    put({ pieces }, piece) { pieces.push(piece); },
    /** Gives whether it was another text than before. */
    store({ pieces }, area, key) {
        const text = pieces.join('');
        if (text === window[area].getItem(key)) return false;
        window[area].setItem(key, text);
        return true;
    },
};
