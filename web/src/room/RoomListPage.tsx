import { Plus } from "lucide-react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";

import type { Room } from "../api/client";
import { createRoom } from "../api/floor";
import { useCatalogue, useRooms } from "../api/queries";
import { TakeOut } from "../shared/TakeOut";
import { RoomPlan } from "../drawing/RoomPlan";
import { counted } from "../shared/format";
import { FirstRoomDialog } from "./FirstRoomDialog";

/** Every room, drawn small. */
export function RoomListPage() {
  const rooms = useRooms();
  const catalogue = useCatalogue();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const kinds = new Map(catalogue.data?.equipment.map((item) => [item.id, item]));
  const [asked, ask] = useSearchParams();
  const make = useMutation({
    mutationFn: () => createRoom(emptyRoom((rooms.data ?? []).map((room) => room.id))),
    onSuccess: async (out) => {
      await queries.invalidateQueries({ queryKey: ["rooms"] });
      void navigate(`/rooms/${out.room.id}`);
    },
  });
  useEffect(() => {
    document.title = "Rooms – Oaken Circuit";
  }, []);
  return (
    <div className="mx-auto max-w-5xl px-4 py-4 lg:px-6">
      <div className="flex items-center gap-4">
        <h1 className="grow text-2xl font-semibold">Rooms</h1>
        <button type="button" className="btn btn-sm" disabled={make.isPending} onClick={() => make.mutate()}>
          Empty room
        </button>
        <button type="button" className="btn btn-primary btn-sm" onClick={() => ask({ begin: "room" })}>
          <Plus size={16} aria-hidden /> New room
        </button>
      </div>
      {(rooms.isError || make.isError) && (
        <p role="alert" className="mt-3 rounded border border-error p-2">
          {(rooms.error ?? make.error)?.message}{" "}
          <button type="button" className="btn btn-xs" onClick={() => rooms.refetch()}>
            Try again
          </button>
        </p>
      )}
      {rooms.isPending && <div className="skeleton mt-4 h-64 w-full" role="status" aria-label="Opening the rooms" />}
      {rooms.data?.length === 0 && (
        <p className="mt-4">
          No room yet.{" "}
          <button type="button" className="underline underline-offset-2" onClick={() => ask({ begin: "room" })}>
            Say what stands there
          </button>
          : everything is placed sensibly, and dragged to where it really stands.
        </p>
      )}
      <ul className="mt-4 grid gap-6 sm:grid-cols-2" data-testid="rooms">
        {rooms.data?.map((room) => (
          <li key={room.id}>
            <Link to={`/rooms/${room.id}`} className="block rounded border border-base-300 p-3 hover:bg-base-200">
              <span className="font-semibold">{room.name}</span>
              {room.retired && <span className="badge badge-sm ml-2">retired</span>}
              <span className="faint ml-2 text-sm">
                {counted(room.units.length, "unit")}
                {room.units.some((unit) => unit.out_of_order) &&
                  `, ${room.units.filter((unit) => unit.out_of_order).length} out of order`}
              </span>
              <span className="pointer-events-none mt-2 block" inert>
                <RoomPlan room={room} kinds={kinds} label={`Plan of ${room.name}`} />
              </span>
            </Link>
            <p className="mt-1 flex flex-wrap items-center gap-2">
              <TakeOut kind="rooms" id={room.id} name={room.name} retired={room.retired} />
            </p>
          </li>
        ))}
      </ul>
      {asked.get("begin") === "room" && rooms.isSuccess && (
        <FirstRoomDialog
          name={emptyRoom(rooms.data.map((room) => room.id)).name}
          onClose={() => ask({}, { replace: true })}
        />
      )}
    </div>
  );
}

function emptyRoom(taken: string[]): Room {
  let number = 1;
  while (taken.includes(`room-${number}`)) number += 1;
  return { id: `room-${number}`, name: `Room ${number}`, width_m: 12, depth_m: 9, zones: [], units: [] };
}
