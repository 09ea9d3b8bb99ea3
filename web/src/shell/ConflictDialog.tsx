import { useMutation } from "@tanstack/react-query";
import { toast } from "sonner";
import { api, ask } from "../api/client";
import type { StudyDocument } from "../study/document/types";
import { dropDraft, saveNow } from "../study/session/autosave";
import { happen, open, useStudy } from "../study/session/store";
import { ChangeList } from "../ui/ChangeList";
import { MAIN_BUTTON, QUIET_BUTTON } from "../ui/Menu";
import { Modal } from "../ui/Modal";

/** Two people edited at once: what each of them changed, and the person says what becomes of it. */
export function ConflictDialog() {
  const id = useStudy((state) => state.id);
  const conflict = useStudy((state) => state.conflict);
  const document = useStudy((state) => (state.conflict ? state.whole : null));
  const copy = useMutation({
    mutationFn: (mine: StudyDocument) =>
      ask(api.POST("/api/studies", { body: { document: { ...mine, name: `${mine.name.slice(0, 100)} (mine)` } } })),
    onSuccess: (study) => {
      takeTheirs();
      toast(`Yours is kept as “${study.document.name}”.`);
    },
    onError: (error) => toast.error(error.message),
  });
  const takeTheirs = () => {
    if (!conflict) return;
    dropDraft(id);
    open(id, conflict.version, conflict.theirs, [], "changed");
    void saveNow();
  };
  const keep = (kept: StudyDocument, label: string) => {
    happen({ type: "resolved", document: kept, label });
    void saveNow();
  };
  if (!conflict || !document) return null;
  const { both, clashes } = conflict;
  return (
    <Modal open wide title="This study was changed elsewhere">
      <p className="mb-3">
        Someone, or you in another window, saved version {conflict.version} while you were editing. Nothing is lost, whatever you choose:
        the history has every version.
      </p>
      <div className="mb-4 grid grid-cols-2 gap-6">
        <section aria-label="What you changed">
          <h3 className="mb-1 text-sm text-ink-2">What you changed</h3>
          <ChangeList changes={conflict.mineChanged} marked={clashes} />
        </section>
        <section aria-label="What they changed">
          <h3 className="mb-1 text-sm text-ink-2">What they changed</h3>
          <ChangeList changes={conflict.theirsChanged} marked={clashes} />
        </section>
      </div>
      {clashes.length > 0 && (
        <p className="mb-3 border-l-2 border-ink pl-2">Where both changed the same place (marked), keeping both means keeping yours.</p>
      )}
      <div className="flex flex-wrap gap-2">
        {both && (
          <button type="button" className={MAIN_BUTTON} onClick={() => keep(both, "Keep both")}>
            Keep both
          </button>
        )}
        <button type="button" className={QUIET_BUTTON} onClick={() => copy.mutate(document)} disabled={copy.isPending}>
          Keep mine as a study of its own
        </button>
        <button type="button" className={QUIET_BUTTON} onClick={() => keep(document, "Put mine on top")}>
          Put mine on top
        </button>
        <button type="button" className={QUIET_BUTTON} onClick={takeTheirs}>
          Take theirs
        </button>
      </div>
    </Modal>
  );
}
