#include <QTest>

#include <filesystem>
#include <fstream>
#include <map>
#include <regex>
#include <set>
#include <sstream>
#include <string>

namespace fs = std::filesystem;

namespace {

using Rooms = std::map<std::string, std::set<std::string>>;

/// What the CMake files declare: by room, the rooms it uses.
Rooms declared() {
    Rooms rooms;
    std::ifstream file(KESTREL_ROOMS);
    for (std::string line; std::getline(file, line);) {
        const std::size_t colon = line.find(':');
        std::set<std::string>& uses = rooms[line.substr(0, colon)];
        std::istringstream names(line.substr(colon + 1));
        for (std::string name; names >> name;) {
            uses.insert(name);
        }
    }
    return rooms;
}

/// What the files include: by room, the other rooms whose headers it names.
Rooms included() {
    Rooms rooms;
    for (const auto& folder : fs::directory_iterator(KESTREL_SOURCES)) {
        if (!folder.is_directory()) {
            continue;
        }
        const std::string room = folder.path().filename();
        std::set<std::string>& uses = rooms[room];
        static const std::regex include("^#include \"([a-z_]+)/");
        for (const auto& entry : fs::recursive_directory_iterator(folder)) {
            if (entry.path().extension() != ".h" && entry.path().extension() != ".cpp") {
                continue;
            }
            std::ifstream file(entry.path());
            for (std::string line; std::getline(file, line);) {
                std::smatch found;
                // Generated headers lie in no room.
                if (std::regex_search(line, found, include) && found[1] != room &&
                    fs::is_directory(fs::path(KESTREL_SOURCES) / found[1].str())) {
                    uses.insert(found[1]);
                }
            }
        }
    }
    return rooms;
}

std::string joined(const std::set<std::string>& names) {
    std::string all;
    for (const std::string& name : names) {
        all += name + " ";
    }
    return all;
}

} // namespace

/// The folders of src are rooms with one-way links; the links that are declared are the ones that
/// are used.
class TestRooms : public QObject {
    Q_OBJECT
  private slots:
    void includesAreWhatIsDeclared();
    void nothingGoesRound();
};

void TestRooms::includesAreWhatIsDeclared() {
    const Rooms said = declared();
    const Rooms used = included();
    QVERIFY(used.size() > 10);
    for (const auto& [room, uses] : used) {
        QVERIFY2(said.contains(room), (room + " is declared nowhere").c_str());
        QVERIFY2(
            said.at(room) == uses,
            (room + " declares " + joined(said.at(room)) + "and includes " + joined(uses)).c_str());
    }
    QCOMPARE(said.size(), used.size());
}

void TestRooms::nothingGoesRound() {
    Rooms left = declared();
    while (!left.empty()) {
        // A room that uses none of those that are left stands on the ground.
        const auto ground = std::find_if(left.begin(), left.end(), [&](const auto& room) {
            return std::none_of(room.second.begin(), room.second.end(),
                                [&](const std::string& used) { return left.contains(used); });
        });
        QVERIFY2(ground != left.end(), (left.begin()->first + " uses itself").c_str());
        left.erase(ground);
    }
}

QTEST_GUILESS_MAIN(TestRooms)
#include "test_rooms.moc"
