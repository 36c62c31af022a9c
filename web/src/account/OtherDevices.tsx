import { useServing } from "../api/account";

/** How phones and the wall find this server: its address as a picture, and what works there. */
export function OtherDevices() {
  const serving = useServing().data;
  if (!serving) return null;
  const { address, qr_svg: picture, encrypted, fingerprint } = serving;
  return (
    <section className="mt-8" aria-labelledby="other-devices">
      <h2 id="other-devices" className="text-lg font-semibold">
        Phones, other laptops, the wall
      </h2>
      {address === null ? (
        <p className="mt-1 max-w-prose">
          This server listens on this machine alone. Start it with <code>make serve HOST=0.0.0.0</code> (or{" "}
          <code>make demo HOST=0.0.0.0</code>) and other devices in this network reach it.
        </p>
      ) : (
        <div className="mt-2 flex flex-wrap items-start gap-6">
          {picture && (
            <img
              src={`data:image/svg+xml;utf8,${encodeURIComponent(picture)}`}
              alt={`QR code of ${address}`}
              className="h-44 w-44 border border-base-300 bg-white"
            />
          )}
          <div className="max-w-prose">
            <p className="font-mono text-lg">{address}</p>
            {!encrypted && (
              <p className="mt-2 font-semibold text-error">
                Without TLS, phones do not keep their screen awake, do not go on when this server is away, and read no
                belts; whoever listens on the network reads passwords.
              </p>
            )}
            {fingerprint && (
              <p className="mt-2 text-sm">
                The certificate is this studio’s own. A device that shall go on without the server has to trust{" "}
                <a className="link" href="/house-certificate">
                  the studio’s certificate
                </a>{" "}
                first. Compare its SHA-256 fingerprint:
                <span className="mt-1 block font-mono text-xs break-all">{fingerprint}</span>
              </p>
            )}
          </div>
        </div>
      )}
    </section>
  );
}
