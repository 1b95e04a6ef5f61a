// A page that is drawn before the program behind it answers is pressed before, too. What is done to a list by then is kept here, and handed
// to the list as it comes. Blazor loads this file by its name, before it starts anything.

const names = ['pointerdown', 'pointermove', 'pointerup', 'pointercancel', 'keydown', 'focusin'];
// As many moves as a few drags have.
const mostMoves = 400;

function begin() {
    keepWhatComes();
    // The list's script comes along with the program, not after it; whoever asks for it says where it cannot be had.
    import('./lectica-list.js').catch(() => { });
}

function keepWhatComes() {
    // By the id of the element that will have the keyboard; the list's script takes it from there.
    const kept = document[Symbol.for('lectica.kept')] ??= new Map();
    const keep = e => {
        const viewport = e.target.closest?.('.lectica-viewport');
        if (!viewport || viewport[Symbol.for('lectica.answers')]) return;
        // A pointer that only moves does nothing; a key that is held was pressed once, and goes on where it shows.
        if (e.repeat || (e.type === 'pointermove' && e.buttons === 0)) return;
        const all = kept.get(viewport.id) ?? [];
        if (e.type === 'pointermove' && all.length >= mostMoves) return;
        const box = viewport.getBoundingClientRect();
        // Where in what is scrolled: until it is answered that may have gone on.
        const x = e.clientX - box.left + viewport.scrollLeft, y = e.clientY - box.top + viewport.scrollTop;
        // Which row, and where in it: that may have gone on, too.
        const row = e.target.closest('.lectica-content .lectica-row'), at = row?.getBoundingClientRect();
        const inRow = row && { x: e.clientX - at.left, y: e.clientY - at.top };
        const { type, key, pointerId, pointerType, isPrimary, pressure, button, buttons, timeStamp } = e;
        const { ctrlKey, shiftKey, altKey, metaKey } = e;
        kept.set(viewport.id, [...all, {
            type, key, pointerId, pointerType, isPrimary, pressure, button, buttons, timeStamp,
            ctrlKey, shiftKey, altKey, metaKey, x, y, row, inRow,
        }]);
    };
    for (const name of names) document.addEventListener(name, keep, { capture: true, passive: true });
}

// In apps of several ways to be drawn, and in those of one.
export const beforeWebStart = begin, beforeStart = begin;
